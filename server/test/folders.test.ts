import { mkdirSync, mkdtempSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { delimiter, join } from "node:path";
import { Folders } from "../src/folders/folders.ts";

const make = () => {
  const root = mkdtempSync(join(tmpdir(), "harbor-folders-"));
  const [data, plans, outside] = ["data", "plans", "outside"].map((name) => join(root, name));
  for (const path of [data, plans, join(plans, "yard"), outside]) mkdirSync(path);
  writeFileSync(join(data, "harbor.sqlite"), "kept to itself");
  writeFileSync(join(data, "crew.csv"), "Name,Pay\nAda,3\n");
  writeFileSync(join(plans, "yard", "boats.xlsx"), "boats");
  writeFileSync(join(plans, ".hidden.csv"), "hidden");
  writeFileSync(join(outside, "secret.csv"), "secret");
  symlinkSync(join(outside, "secret.csv"), join(plans, "way-out.csv"));
  return { data, plans, outside };
};
const refusal = (work: Promise<unknown>) =>
  work.then(
    () => "nothing",
    (error: { status: number; type: string }) => `${error.status} ${error.type}`,
  );

test("of the data folder and those that are named, spreadsheets and texts are listed, and nothing else", async () => {
  const { data, plans } = make();
  const listed = await new Folders(data, plans).list();
  expect(listed.map(({ name, path, files }) => [name, path, files.map((f) => [f.path, f.bytes])])).toEqual([
    ["data", data, [["crew.csv", 15]]],
    ["plans", plans, [["yard/boats.xlsx", 5]]],
  ]);
  expect(listed[0].files[0].changedAt).toMatch(/^\d{4}-\d\d-\d\dT/);
});

test("two folders of one name are told apart, and one that is gone has no files", async () => {
  const { data, plans } = make();
  const gone = join(plans, "..", "gone");
  const listed = await new Folders(
    data,
    [plans, join(plans, "yard", "..", "..", "outside"), gone, plans].join(delimiter),
  ).list();
  expect(listed.map(({ name, files }) => [name, files.length])).toEqual([
    ["data", 1],
    ["plans", 1],
    ["outside", 1],
    ["gone", 0],
    ["plans 2", 1],
  ]);
});

test("a file is read as it is now; none outside the folder is, however it is asked for", async () => {
  const { data, plans, outside } = make();
  const folders = new Folders(data, plans);
  expect((await folders.read("data", "crew.csv")).bytes.toString()).toBe("Name,Pay\nAda,3\n");
  writeFileSync(join(data, "crew.csv"), "Name,Pay\nAda,4\n");
  expect((await folders.read("data", "crew.csv")).bytes.toString()).toContain("Ada,4");
  expect((await folders.read("plans", "yard/boats.xlsx")).bytes.toString()).toBe("boats");

  expect(await refusal(folders.read("outside", "secret.csv"))).toBe("403 folder-not-allowed");
  expect(await refusal(folders.read("data", "harbor.sqlite"))).toBe("403 file-not-allowed");
  expect(await refusal(folders.read("plans", "../outside/secret.csv"))).toBe("403 file-not-allowed");
  expect(await refusal(folders.read("plans", join(outside, "secret.csv")))).toBe("403 file-not-allowed");
  expect(await refusal(folders.read("plans", "way-out.csv"))).toBe("403 file-not-allowed");
  expect(await refusal(folders.read("plans", "yard/gone.csv"))).toBe("404 no-such-file");
});
