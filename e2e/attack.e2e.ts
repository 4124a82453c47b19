import { attackDocuments } from "./attack/documents.ts";
import { attackByFullDisk } from "./attack/disk.ts";
import { attackByDrawings } from "./attack/drawings.ts";
import { attackByKills, attackByRequests } from "./attack/server.ts";

jest.setTimeout(300_000);

/** Small versions of `npm run attack`. */
describe("the attack finds nothing", () => {
  test("mutated documents", () => expect(attackDocuments(300, 7).failures).toEqual([]));
  test("kills in the midst of a run and of saves", async () => expect((await attackByKills(4)).failures).toEqual([]));
  test("a disk that is full for a while", async () => expect((await attackByFullDisk(2)).failures).toEqual([]));
  test("odd requests", async () => {
    const { counts, failures } = await attackByRequests();
    expect(failures).toEqual([]);
    expect(counts.requests).toBeGreaterThan(300);
  });
  test("hostile drawings", async () => {
    const { counts, failures } = await attackByDrawings();
    expect(failures).toEqual([]);
    // Those that unfold without measure are refused; filters and acts are left out of the others.
    expect(counts.refused).toBeGreaterThanOrEqual(8);
  });
});
