import { type Design, readStudy, type Study, unfold } from "@busy-harbor/core";
import { familyYard } from "./familyYard.ts";
import { cellOfMember, withMembers, writeMember } from "../src/ledger/members.ts";
import { planBlock } from "../src/ledger/block.ts";
import { sheetsOf } from "../src/ledger/sheet.ts";

/** The yard with its workshop as a family of three bays, their times and hours from the table. */
function yard(): Study {
  const loose = familyYard();
  Object.assign(loose.designs[0].elements[1], {
    time: "row.Work",
    family: { table: "bays", columns: { calendar: "hours" } },
  });
  const read = readStudy(loose);
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.study;
}

const rowsOf = (study: Study) => {
  const [design] = study.designs;
  const unfolded = unfold(study, design);
  const sheet = sheetsOf(design).find(({ id }) => id === "station")!;
  return { design, unfolded, sheet, rows: withMembers(sheet.rows(design), unfolded) };
};

describe("members in the ledger", () => {
  test("stand below their family, with what their rows say", () => {
    const study = yard();
    const { rows, unfolded } = rowsOf(study);
    expect(rows.map((r) => ("name" in r ? r.name : ""))).toEqual(["Bays", "Bays North", "Bays South", "Bays West"]);
    const told = (setting: string) =>
      [...unfolded.members.values()].map((member) => cellOfMember(member, setting, study.tables));
    expect(told("time")).toEqual(["40 min", "55 min", "30 min"]);
    expect(told("calendar")).toEqual(["", "Mornings", ""]);
    expect(told("capacity")).toEqual([undefined, undefined, undefined]);
  });

  test("what is written in a member's cell goes to the table; what all share is refused, and says where it is", () => {
    const study = yard();
    const { unfolded } = rowsOf(study);
    const south = unfolded.members.get("w/South")!;
    const draft = JSON.parse(JSON.stringify(study)) as Study;
    expect(writeMember(draft, "d", south, "time", "50")).toBeUndefined();
    expect(draft.tables[0].rows[1][1]).toBe("50");
    expect(writeMember(draft, "d", south, "capacity", "3")).toContain("change it in the row of Bays");
    expect(writeMember(draft, "d", south, "name", "Else")).toContain("the key of their row");
  });

  test("a design's own version of the table takes it, where there is one", () => {
    const study = yard();
    const draft = JSON.parse(JSON.stringify(study)) as Study;
    draft.designs[0].tables = JSON.parse(JSON.stringify(draft.tables)) as Design["tables"];
    const south = rowsOf(study).unfolded.members.get("w/South")!;
    writeMember(draft, "d", south, "time", "50");
    expect(draft.designs[0].tables[0].rows[1][1]).toBe("50");
    expect(draft.tables[0].rows[1][1]).toBe("55");
  });

  test("a block pasted over members is refused, and adds nothing", () => {
    const study = yard();
    const { sheet, rows } = rowsOf(study);
    const plan = planBlock([["x"], ["y"]], {
      study,
      designId: "d",
      sheet,
      rowIds: rows.map((r) => r.id),
      columns: sheet.columns,
      row: 1,
      column: 1,
    });
    expect(plan.added).toBe(0);
    expect(plan.refusals.map(({ message }) => message)).toEqual([
      expect.stringContaining("member of a family"),
      expect.stringContaining("member of a family"),
    ]);
  });
});
