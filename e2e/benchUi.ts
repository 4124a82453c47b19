import { startServer } from "../server/test/startServer.ts";
import { Person } from "./support/browser.ts";

/** Scripting time of a frame while about 500 entities move: a plan of long walkways, watched at 10 times life. */
const rows = 10;
const elements = [{ kind: "arrivals", id: "in", name: "In", at: [0, 20], entityType: "t", between: "0.5 s", wayOut: "in turn" }, { kind: "departures", id: "out", name: "Out", at: [200, 20] }] as object[];
const links: object[] = [];
for (let i = 0; i < rows; i++) {
  elements.push({ kind: "station", id: `s${i}`, name: `Station ${i}`, at: [100, i * 5], capacity: "4", time: "uniform(1 s, 5 s)" });
  links.push({ id: `a${i}`, from: "in", to: `s${i}`, kind: "walkway", length: "160 m" }, { id: `b${i}`, from: `s${i}`, to: "out", kind: "walkway", length: "160 m" });
}
const study = { format: "busy-harbor-study", version: 1, name: "Five hundred under way", designs: [{ id: "d", name: "Base", entityTypes: [{ id: "t", name: "Walker" }], elements, links }] };

const server = await startServer();
const person = await Person.open(1280, 800);
const { id } = (await (await fetch(`${server.url}/api/studies`, { method: "POST", headers: { "content-type": "application/json" }, body: JSON.stringify({ study }) })).json()) as { id: string };
await person.go(`${server.url}/study/${id}/watch`);
const seconds = async () => Number(await (await person.find("[data-testid=clock]")).getAttribute("data-seconds"));
await person.driver.wait(async () => (await seconds()) > 300, 60_000);
await person.driver.sleep(5000);
const cost = Number(await person.driver.executeScript("return document.querySelector('[data-testid=frame-cost]').cost()"));
const moving = Number(/Walker (\d+)/.exec(await person.text("[aria-label=Instruments]"))?.[1]);
console.log(`watch-entities: ${moving}`);
console.log(`watch-frame-scripting-ms-p95: ${cost.toFixed(2)}`);
await person.close();
await server.stop();
