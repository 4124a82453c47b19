import {
  type Design,
  ENTITY_LOOKS,
  type EntityType,
  type Problem,
  type Study,
  type Table,
  tablesOf,
} from "@busy-harbor/core";
import { Plus, Trash2 } from "lucide-react";
import { addEntityType } from "../state/edits.ts";
import { useStudy } from "../state/study.ts";
import { Differences } from "./Differences.tsx";
import { renameEverywhere } from "./renameEverywhere.ts";
import { Picture } from "../displays/Picture.tsx";
import { choosePicture } from "./placeDisplay.ts";
import { MeasureList } from "./MeasureList.tsx";
import { DisplayList } from "./DisplayList.tsx";
import { DrawingList } from "./DrawingList.tsx";
import { ChoiceRow, Details, NameRow, Section, TextRow } from "./fields.tsx";
import { useGoToProblem } from "./goToProblem.ts";
import { ProblemList } from "./ProblemList.tsx";
import { ColourField } from "../ui/ColourField.tsx";
import { SortableList } from "../ui/SortableList.tsx";
import { moved } from "../ui/sorting.ts";

/** The card when nothing is selected: the design itself, its problems, and its entity types. */
export function DesignCard({
  study,
  design,
  problems,
}: {
  study: Study;
  design: Design;
  problems: readonly Problem[];
}) {
  const { change, changeDesign } = useStudy();
  const go = useGoToProblem();
  const typeOf = (id: string) => design.entityTypes.find((t) => t.id === id)!;
  const tables = tablesOf(study.tables, design.tables);
  const ofType = (id: string) => problems.filter((p) => p.id === id);
  return (
    <>
      {problems.length > 0 && <ProblemList problems={problems} onGo={go} />}
      {problems.every((p) => p.severity === "warning") && (
        <p className="mb-2 text-soft">
          {problems.length === 0 ? "No problems: this design can run." : "This design can run as it is."}
        </p>
      )}
      <NameRow
        name="design-name"
        label="Name"
        value={design.name}
        problems={[]}
        onChange={(v) => changeDesign("Rename design", (d) => void (d.name = v), "name")}
      />
      <TextRow
        name="note"
        label="Note"
        mono={false}
        value={design.note}
        placeholder="What this alternative is"
        problems={[]}
        onChange={(v) => changeDesign("Change note", (d) => void (d.note = v), "note")}
      />
      <Section title="Entity types">
        <SortableList
          ids={design.entityTypes.map((t) => t.id)}
          nameOf={(id) => typeOf(id).name}
          onMove={(from, to) =>
            changeDesign("Move entity type", (d) => void (d.entityTypes = moved(d.entityTypes, from, to)))
          }
        >
          {(id, _index, grip) => (
            <div className="flex items-start gap-1 pb-1.5">
              {grip && <span className="pt-2.5">{grip}</span>}
              <div className="min-w-0 grow">
                <EntityTypeRows
                  type={typeOf(id)}
                  tables={tables}
                  problems={ofType(id)}
                  only={design.entityTypes.length === 1}
                />
              </div>
            </div>
          )}
        </SortableList>
        <button className="button mt-1" onClick={() => changeDesign("Add entity type", addEntityType)}>
          <Plus size={14} /> Entity type
        </button>
      </Section>
      <MeasureList design={design} problems={problems} />
      <DisplayList design={design} />
      <DrawingList study={study} />
      <Differences key={design.id} study={study} design={design} />
      <Section title="Shown in">
        <ChoiceRow
          name="time-unit"
          label="Times"
          value={study.units.time}
          choices={[
            ["s", "seconds"],
            ["min", "minutes"],
            ["h", "hours"],
            ["d", "days"],
          ]}
          problems={[]}
          onChange={(v) => change("Change unit of time", (s) => void (s.units.time = v))}
        />
        <ChoiceRow
          name="length-unit"
          label="Lengths"
          value={study.units.length}
          choices={[
            ["m", "metres"],
            ["ft", "feet"],
            ["in", "inches"],
          ]}
          problems={[]}
          onChange={(v) => change("Change unit of length", (s) => void (s.units.length = v))}
        />
      </Section>
    </>
  );
}

/** What an entity's colour tells while it is watched. */
function Colouring({
  type,
  problems,
  set,
}: {
  type: EntityType;
  problems: readonly Problem[];
  set: (what: string, recipe: (t: EntityType) => void) => void;
}) {
  const of = (field: string) => problems.filter((p) => p.field === field);
  const choice = type.colouring === "attribute" ? `attribute ${type.colourAttribute}` : type.colouring;
  const missing = type.colouring === "attribute" && !type.attributes.some((a) => a.name === type.colourAttribute);
  return (
    <>
      <ChoiceRow
        name={`colouring-${type.id}`}
        label="Colour tells"
        value={choice}
        choices={[
          ["own", "the entity type"],
          ["state", "what it is doing"],
          ...type.attributes.map((a) => [`attribute ${a.name}`, `its ${a.name}`] as const),
          ...(missing ? [[choice, `its ${type.colourAttribute || "attribute"}`] as const] : []),
        ]}
        problems={[...of("colourAttribute"), ...of("bands")]}
        onChange={(v) =>
          set("colouring", (t) => {
            t.colouring = v === "own" || v === "state" ? v : "attribute";
            if (t.colouring === "attribute") t.colourAttribute = v.replace(/^attribute /, "");
            if (t.colouring === "attribute" && t.bands.length === 0) t.bands = [{ from: "1", colour: "#D9512C" }];
          })
        }
      />
      {type.colouring === "attribute" && (
        <div className="pl-[116px]">
          {type.bands.map((band, i) => (
            <div key={i} className="py-0.5">
              <div className="flex items-center gap-1.5">
                <span className="text-soft">from</span>
                <input
                  className="field mono"
                  aria-label={`Value from which colour ${i + 1} begins`}
                  aria-invalid={of(`bands.${i}`).length > 0}
                  value={band.from}
                  onChange={(e) => set(`colour ${i + 1}`, (t) => void (t.bands[i].from = e.target.value))}
                />
                <ColourField
                  label={`Colour ${i + 1}`}
                  className="h-7 w-9"
                  value={band.colour}
                  onChange={(v) => set(`colour ${i + 1}`, (t) => void (t.bands[i].colour = v))}
                />
                <button
                  className="text-soft"
                  aria-label={`Delete colour ${i + 1}`}
                  onClick={() => set("colours", (t) => void t.bands.splice(i, 1))}
                >
                  <Trash2 size={13} />
                </button>
              </div>
              {of(`bands.${i}`).map((p) => (
                <p key={p.message} className="text-xs text-buoy-deep">
                  {p.message} <span className="text-ink">{p.hint}</span>
                </p>
              ))}
            </div>
          ))}
          <button
            className="button mt-1"
            disabled={type.bands.length >= 12}
            onClick={() => set("colours", (t) => void t.bands.push({ from: "", colour: "#7A5C9E" }))}
          >
            <Plus size={14} /> Colour
          </button>
        </div>
      )}
    </>
  );
}

/** Whether an entity type stands for one a row of a table, and what each has from it besides its attributes. */
function TypeFamily({
  type,
  tables,
  problems,
  set,
}: {
  type: EntityType;
  tables: readonly Table[];
  problems: readonly Problem[];
  set: (what: string, recipe: (t: EntityType) => void) => void;
}) {
  const { family } = type;
  if (!family && tables.length === 0) return null;
  const table = tables.find(({ id }) => id === family?.table);
  const key = table?.columns.findIndex(({ id }) => id === table.key) ?? -1;
  const names = table?.rows.map((cells, i) => (key < 0 ? String(i + 1) : (cells[key] ?? ""))) ?? [];
  const of = (field: string) => problems.filter((p) => p.field === field);
  const column = (name: "look" | "colour", label: string, none: string) =>
    family && (
      <ChoiceRow
        name={`${name}-by-${type.id}`}
        label={label}
        value={family[name]}
        choices={[["", none], ...(table?.columns ?? []).map((c) => [c.id, c.name] as const)]}
        problems={of(`family.${name}`)}
        onChange={(id) => set(`column of ${name}`, (t) => t.family && void (t.family[name] = id))}
      />
    );
  return (
    <>
      <ChoiceRow
        name={`family-${type.id}`}
        label="Stands for"
        value={family?.table ?? ""}
        choices={[
          ["", "itself alone"],
          ...(family && !table ? [[family.table, "choose …"] as const] : []),
          ...tables.map(({ id, name }) => [id, `each row of ${name}`] as const),
        ]}
        problems={of("family")}
        onChange={(id) =>
          set("rows", (t) => {
            if (id === "") delete t.family;
            else t.family = { table: id, look: "", colour: "" };
          })
        }
      />
      {family && (
        <p className="pb-1 text-xs text-soft wrap-anywhere" data-testid="type-rows">
          {names.length} {names.length === 1 ? "type" : "types"}: {names.slice(0, 8).join(", ")}
          {names.length > 8 && `, and ${names.length - 8} more`}. Speed and attributes may read the row, as row.
          {(table?.columns.find((c) => c.id !== table.key)?.name ?? "column").replace(/[^\p{L}\p{N}]/gu, "")}.
        </p>
      )}
      {column("look", "Look by", "all alike")}
      {column("colour", "Colour by", "colours in turn")}
    </>
  );
}

function EntityTypeRows({
  type,
  tables,
  problems,
  only,
}: {
  type: EntityType;
  tables: readonly Table[];
  problems: readonly Problem[];
  only: boolean;
}) {
  const { changeDesign } = useStudy();
  const set = (what: string, recipe: (t: EntityType) => void) =>
    changeDesign(
      `Change ${what} of ${type.name}`,
      (d) => {
        const target = d.entityTypes.find((t) => t.id === type.id);
        if (target) recipe(target);
      },
      `${type.id}/${what}`,
    );
  const of = (field: string) => problems.filter((p) => p.field === field);
  return (
    <Details
      open={only || problems.length > 0}
      summary={
        <>
          <span className="h-3 w-5 rounded-full border border-ink" style={{ background: type.colour }} />
          {type.name}
          <span className="ml-auto text-xs font-normal text-soft">{type.speed}</span>
        </>
      }
    >
      <NameRow
        name={`name-${type.id}`}
        label="Name"
        value={type.name}
        problems={of("name")}
        onChange={(v) => set("name", (t) => void (t.name = v))}
        onRenamed={renameEverywhere}
      />
      <TypeFamily type={type} tables={tables} problems={problems} set={set} />
      <TextRow
        name={`speed-${type.id}`}
        label="Speed"
        expression={type.family ? { type: type.id } : {}}
        value={type.speed}
        problems={of("speed")}
        onChange={(v) => set("speed", (t) => void (t.speed = v))}
      />
      <ChoiceRow
        name={`look-${type.id}`}
        label="Look"
        value={type.look}
        choices={ENTITY_LOOKS.map((look) => [look, look] as const)}
        problems={[]}
        onChange={(v) => set("look", (t) => void (t.look = v))}
      />
      {type.look === "picture" && (
        <div className="flex items-center justify-end gap-2 py-1">
          {type.picture ? (
            <Picture file={type.picture.file} format={type.picture.format} width={48} title={type.name} />
          ) : (
            <p className="text-soft">Like a parcel until then.</p>
          )}
          <button
            className="button"
            onClick={() =>
              void choosePicture().then((picture) => picture && set("picture", (t) => void (t.picture = picture)))
            }
          >
            {type.picture ? "Another picture" : "Choose a picture"}
          </button>
        </div>
      )}
      {/* Rows that tell no colour have it in turn. */}
      <div
        className={`grid-cols-[104px_1fr] gap-x-3 py-1 ${type.family && type.family.colour === "" ? "hidden" : "grid"}`}
      >
        <label className="pt-1 text-soft" htmlFor={`colour-${type.id}`}>
          Colour
        </label>
        <ColourField
          id={`colour-${type.id}`}
          label={`Colour of ${type.name}`}
          value={type.colour}
          onChange={(v) => set("colour", (t) => void (t.colour = v))}
        />
      </div>
      <Colouring type={type} problems={problems} set={set} />
      {type.attributes.map((attribute, i) => (
        <div key={i} className="flex items-start gap-1">
          <div className="min-w-0 grow">
            <TextRow
              name={`attribute ${attribute.name}`}
              label={attribute.name}
              expression={type.family ? { entity: true, type: type.id } : { entity: true }}
              value={attribute.value}
              problems={of(`attribute ${attribute.name}`)}
              onChange={(v) => set(attribute.name, (t) => void (t.attributes[i].value = v))}
            />
          </div>
          <button
            className="mt-2 text-soft"
            aria-label={`Delete attribute ${attribute.name}`}
            onClick={() => set("attributes", (t) => void t.attributes.splice(i, 1))}
          >
            <Trash2 size={13} />
          </button>
        </div>
      ))}
      <form
        className="flex gap-1 py-1"
        onSubmit={(event) => {
          event.preventDefault();
          const input = event.currentTarget.elements.namedItem("attribute") as HTMLInputElement;
          const name = input.value.trim();
          if (!/^[\p{L}_][\p{L}\p{N}_]*$/u.test(name) || type.attributes.some((a) => a.name === name))
            return input.reportValidity();
          set("attributes", (t) => void t.attributes.push({ name, value: "0" }));
          input.value = "";
        }}
      >
        <input
          name="attribute"
          className="field"
          placeholder="New attribute"
          aria-label={`New attribute of ${type.name}`}
          pattern="[\p{L}_][\p{L}\p{N}_]*"
          data-tip="One word of letters and digits"
        />
        <button className="button" aria-label={`Add attribute to ${type.name}`}>
          <Plus size={14} />
        </button>
        {!only && (
          <button
            type="button"
            className="button"
            aria-label={`Delete ${type.name}`}
            onClick={() =>
              changeDesign(
                `Delete ${type.name}`,
                (d) => void (d.entityTypes = d.entityTypes.filter((t) => t.id !== type.id)),
              )
            }
          >
            <Trash2 size={14} />
          </button>
        )}
      </form>
    </Details>
  );
}
