import { type Display, FIGURE_POSTURES, type Problem, type Study } from "@busy-harbor/core";
import { ArrowLeft, Plus, Trash2 } from "lucide-react";
import { changeDisplay, deleteDisplay, DISPLAY_LABELS } from "../displays/displayStore.ts";
import { useShown } from "../state/shown.ts";
import { placed } from "../state/edits.ts";
import { ChoiceRow, LengthRow, ReadRow, Section, TextRow } from "./fields.tsx";
import { SortableList } from "../ui/SortableList.tsx";

const readNumber = (text: string): number | undefined =>
  text.trim() !== "" && Number.isFinite(Number(text)) ? Number(text) : undefined;

const within = (least: number, most: number) => (text: string) => {
  const value = readNumber(text);
  return value !== undefined && value >= least && value <= most ? value : undefined;
};
const sizeFrom = within(0.25, 8);
const degreesFrom = within(-360, 360);
const countTo60 = (text: string) => {
  const value = within(1, 60)(text);
  return value !== undefined && Number.isInteger(value) ? value : undefined;
};

/** The card of a display: what it shows, on which scale, and where. */
export function DisplayCard({
  display,
  study,
  problems,
}: {
  display: Display;
  study: Study;
  problems: readonly Problem[];
}) {
  const { id } = display;
  const set = (what: string, recipe: (d: Display) => void) =>
    changeDisplay(id, `Change ${what} of display`, recipe, what);
  const of = (field: string) => problems.filter((p) => p.field === field);
  return (
    <>
      <button
        className="button button-quiet -mt-1 -ml-2 mb-1 text-soft"
        onClick={() => useShown.getState().show(undefined)}
      >
        <ArrowLeft size={14} /> All displays
      </button>
      <TextRow
        name="display-title"
        label="Title"
        mono={false}
        value={display.title}
        placeholder="none"
        problems={[]}
        onChange={(v) => set("title", (d) => void (d.title = v.slice(0, 120)))}
      />
      {display.kind === "text" && (
        <TextRow
          name="text"
          label="Text"
          mono={false}
          value={display.text}
          problems={[]}
          onChange={(v) => set("text", (d) => void (d.kind === "text" && (d.text = v.slice(0, 2000))))}
        />
      )}
      {"value" in display && (
        <TextRow
          name="value"
          label="Shows"
          expression={{}}
          help="An expression, such as TicketLine.length"
          value={display.value}
          problems={of("value")}
          onChange={(v) => set("value", (d) => void ("value" in d && (d.value = v)))}
        />
      )}
      {display.kind === "people" && (
        <Section title="People">
          <ChoiceRow
            name="posture"
            label="They are"
            value={display.posture}
            choices={FIGURE_POSTURES.map((posture) => [posture, posture] as const)}
            problems={[]}
            onChange={(v) => set("posture", (d) => void (d.kind === "people" && (d.posture = v)))}
          />
          <ReadRow
            name="most"
            label="Drawn at most"
            shown={String(display.most)}
            read={countTo60}
            refusal={{ message: "A whole number from 1 to 60 is wanted.", hint: "Of more the number is told." }}
            onChange={(v) => set("most", (d) => void (d.kind === "people" && (d.most = v)))}
          />
        </Section>
      )}
      {"least" in display && (
        <Section title="Scale, in the unit shown">
          {(["least", "most"] as const).map((end) => (
            <ReadRow
              key={end}
              name={end}
              label={end === "least" ? "From" : "To"}
              shown={String(display[end])}
              read={readNumber}
              refusal={{ message: "This is not a number.", hint: "Write it as 12.5." }}
              onChange={(v) => set(end, (d) => void ("least" in d && (d[end] = v)))}
            />
          ))}
          {display.most <= display.least && (
            <p className="text-xs text-buoy-deep">The scale must end above where it begins.</p>
          )}
        </Section>
      )}
      {"rows" in display && (
        <Section title={display.kind === "chart" ? "Lines" : "Rows"}>
          <SortableList
            ids={display.rows.map((_, i) => String(i + 1))}
            nameOf={(id) => `row ${id}`}
            onMove={(from, to) =>
              set("order of rows", (d) => {
                if ("rows" in d) d.rows.splice(to, 0, ...d.rows.splice(from, 1));
              })
            }
          >
            {(_id, i, grip) => {
              const row = display.rows[i];
              return (
                <div className="border-b border-line py-1 last-of-type:border-0">
                  <div className="flex items-start gap-1">
                    <div className="min-w-0 grow">
                      <TextRow
                        name={`label-${i}`}
                        label="Label"
                        mono={false}
                        value={row.label}
                        placeholder="as written"
                        problems={[]}
                        onChange={(v) =>
                          set(`label ${i + 1}`, (d) => void ("rows" in d && (d.rows[i].label = v.slice(0, 80))))
                        }
                      />
                    </div>
                    <span className="mt-2">{grip}</span>
                    <button
                      className="mt-2 text-soft disabled:opacity-40"
                      aria-label={`Delete row ${i + 1}`}
                      disabled={display.rows.length === 1}
                      onClick={() => set("rows", (d) => void ("rows" in d && d.rows.splice(i, 1)))}
                    >
                      <Trash2 size={13} />
                    </button>
                  </div>
                  <TextRow
                    name={`rows.${i}`}
                    label="Shows"
                    expression={{}}
                    value={row.value}
                    problems={of(`rows.${i}`)}
                    onChange={(v) => set(`row ${i + 1}`, (d) => void ("rows" in d && (d.rows[i].value = v)))}
                  />
                </div>
              );
            }}
          </SortableList>
          <button
            className="button mt-1"
            disabled={display.rows.length >= (display.kind === "chart" ? 4 : 12)}
            onClick={() => set("rows", (d) => void ("rows" in d && d.rows.push({ label: "", value: "" })))}
          >
            <Plus size={14} /> {display.kind === "chart" ? "Line" : "Row"}
          </button>
        </Section>
      )}
      {display.kind === "chart" && (
        <TextRow
          name="span"
          label="Time shown"
          expression={{}}
          value={display.span}
          problems={of("span")}
          onChange={(v) => set("span", (d) => void (d.kind === "chart" && (d.span = v)))}
        />
      )}
      {display.kind === "picture" && (
        <LengthRow
          name="width"
          label="Width"
          metres={display.width}
          units={study.units}
          onChange={(metres) =>
            metres > 0 && set("width", (d) => void (d.kind === "picture" && (d.width = Math.min(1e5, metres))))
          }
        />
      )}
      {"size" in display && (
        <ReadRow
          name="display-size"
          label="Size, times"
          shown={String(display.size)}
          read={sizeFrom}
          refusal={{
            message: "A number from 0.25 to 8 is wanted.",
            hint: "1 is as large as the letters of this card.",
          }}
          onChange={(v) => set("size", (d) => void ("size" in d && (d.size = v)))}
        />
      )}
      <ReadRow
        name="display-rotation"
        label="Turned, degrees"
        shown={String(display.rotation)}
        read={degreesFrom}
        refusal={{ message: "A number from -360 to 360 is wanted.", hint: "It turns clockwise about that corner." }}
        onChange={(v) => set("turn", (d) => void (d.rotation = v))}
      />
      <Section title="Place of its upper left corner">
        {(["Across", "Down"] as const).map((label, axis) => (
          <LengthRow
            key={label}
            name={`display-${label}`}
            label={label}
            metres={display.at[axis]}
            units={study.units}
            onChange={(metres) =>
              set("place", (d) => void (d.at = placed(axis === 0 ? [metres, d.at[1]] : [d.at[0], metres])))
            }
          />
        ))}
      </Section>
      <div className="border-t border-line pt-2.5">
        <button className="button" onClick={() => deleteDisplay(id)}>
          <Trash2 size={14} /> Delete {DISPLAY_LABELS[display.kind].toLowerCase()}
        </button>
      </div>
    </>
  );
}
