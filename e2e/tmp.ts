import { writeFileSync, readFileSync } from "node:fs";
import { startServer } from "../server/test/startServer.ts";
import { Person } from "./support/browser.ts";
import { storeStudy } from "./support/storeStudy.ts";
const server = await startServer();
const person = await Person.open(1280, 800);
const keep = async (name: string) => writeFileSync(`/tmp/shot-${name}.png`, await person.picture(), "base64");
try {
  const quay = JSON.parse(readFileSync("demo/foot-passengers.json", "utf8"));
  const id = await storeStudy(server, quay);
  await person.go(`${server.url}/study/${id}/watch`);
  await person.driver.sleep(1500);
  await person.press("h");
  for (let i = 0; i < 2; i++) await person.press("]");
  await person.driver.sleep(15000);
  await person.press("y");
  await person.driver.sleep(2500);
  await keep("watch-heat");
} finally {
  await person.close();
  await server.stop();
}
