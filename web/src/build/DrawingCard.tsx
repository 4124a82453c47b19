import { type Drawing, formatNumber, LENGTH, displayUnit, type Problem, type Study } from "@busy-harbor/core";
import { ArrowLeft, RotateCcw, Ruler, Trash2 } from "lucide-react";
import { useEffect, useMemo, useState } from "react";
import { changeDrawing, deleteDrawing, showDrawing, useDrawings } from "../drawings/drawingStore.ts";
import type { FileInfo } from "../drawings/drawing.worker.ts";
import { INK } from "../drawings/dxf/colours.ts";
import { ensureFile, readAgain, useDrawingFiles } from "../drawings/files.ts";
import { doubtOf, DRAWING_UNITS, scaledByTwoPoints, unitOf } from "../drawings/scale.ts";
import { COLOURS } from "../floor/colours.ts";
import { extentPoints } from "../floor/viewStore.ts";
import { useDesign } from "../state/study.ts";
import { ChoiceRow, LengthRow, NameRow, ReadRow, Section, TextRow } from "./fields.tsx";
import { readLength, showLength } from "./length.ts";
import { Checkbox } from "../ui/Checkbox.tsx";
import { ColourField } from "../ui/ColourField.tsx";
import { Slider } from "../ui/Slider.tsx";

/** Digits that show a place or a scale in full. */
const FULL = 12;

/** The card of a background drawing: its scale and place, how it looks, and its layers. */
export function DrawingCard({ drawing, study }: { drawing: Drawing; study: Study }) {
  const file = useDrawingFiles((s) => s.files[drawing.file]);
  const { id, locked } = drawing;
  // Even one that is hidden tells its size and layers.
  useEffect(() => void ensureFile(drawing.file), [drawing.file]);
  const change = (name: string, recipe: (d: Drawing) => void, mergeKey?: string) =>
    changeDrawing(id, `${name} of ${drawing.name}`, recipe, mergeKey);
  const info = file?.state === "ready" ? file.info : undefined;
  return (
    <>
      <button className="button button-quiet -mt-1 -ml-2 mb-1 text-soft" onClick={() => showDrawing(undefined)}>
        <ArrowLeft size={14} /> All drawings
      </button>
      {file?.state === "broken" && (
        <div role="alert" className="mb-2 rounded-md border border-buoy px-3 py-2">
          <p>
            {file.message} {file.hint}
          </p>
          <button className="button mt-1" onClick={() => readAgain(drawing.file)}>
            Try again
          </button>
        </div>
      )}
      {info && <Doubtful drawing={drawing} info={info} study={study} />}
      <NameRow
        name="drawing-name"
        label="Name"
        value={drawing.name}
        problems={[]}
        onChange={(v) => change("Change name", (d) => void (d.name = v), "name")}
      />
      <fieldset disabled={locked} className="contents">
        {info && <ScaleRows drawing={drawing} info={info} study={study} />}
        <Section title={locked ? "Place of its middle, locked" : "Place of its middle"}>
          {(["Across", "Down"] as const).map((label, axis) => (
            <LengthRow
              key={label}
              name={`drawing-${label}`}
              label={label}
              digits={FULL}
              metres={drawing.at[axis]}
              units={study.units}
              onChange={(metres) => change("Move", (d) => void (d.at[axis] = metres), "at")}
            />
          ))}
          <ReadRow
            name="drawing-turn"
            label="Turned"
            shown={`${formatNumber(drawing.rotation, FULL)}°`}
            read={readAngle}
            refusal={{ message: "This is not an angle from -360° to 360°.", hint: "Write it as 90°." }}
            onChange={(v) => change("Turn", (d) => void (d.rotation = v), "rotation")}
          />
        </Section>
      </fieldset>
      <Section title="Look">
        <div className="grid grid-cols-[104px_1fr] items-center gap-x-3 py-1">
          <span className="text-soft">Strength</span>
          <span className="flex items-center gap-2">
            <Slider
              label="Strength"
              most={100}
              value={Math.round(drawing.opacity * 100)}
              valueText={`${Math.round(drawing.opacity * 100)} %`}
              onChange={(v) => change("Change strength", (d) => void (d.opacity = v / 100), "opacity")}
            />
            <span className="w-11 text-right tabular-nums">{Math.round(drawing.opacity * 100)} %</span>
          </span>
        </div>
        <Checkbox
          checked={drawing.visible}
          onChange={(on) => change(on ? "Showing" : "Hiding", (d) => void (d.visible = on))}
        >
          Shown
        </Checkbox>
        <Checkbox checked={locked} onChange={(on) => change(on ? "Locking" : "Unlocking", (d) => void (d.locked = on))}>
          Locked in place
        </Checkbox>
      </Section>
      {info && info.layers.length > 0 && <Layers drawing={drawing} info={info} />}
      {info && info.notes.length > 0 && (
        <Section title="Left out">
          {info.notes.map((note) => (
            <p key={note} className="text-soft">
              {note}
            </p>
          ))}
        </Section>
      )}
      <div className="border-t border-line pt-2.5">
        <button className="button" onClick={() => deleteDrawing(id)}>
          <Trash2 size={14} /> Delete drawing
        </button>
      </div>
    </>
  );
}

const sizeText = (info: FileInfo, metresPerUnit: number, units: Study["units"]) => {
  const { symbol, factor } = displayUnit(LENGTH, units);
  return `${formatNumber((info.width * metresPerUnit) / factor, 4)} by ${formatNumber((info.height * metresPerUnit) / factor, 4)} ${symbol}`;
};

/** A scale that cannot well be meant, and the one that likely is. */
function Doubtful({ drawing, info, study }: { drawing: Drawing; info: FileInfo; study: Study }) {
  const design = useDesign();
  const extent = Math.max(info.width, info.height);
  const doubt = useMemo(
    () => (design ? doubtOf(extent, drawing.metresPerUnit, extentPoints(design, study.plan), info.unit) : undefined),
    [design, study.plan, extent, drawing.metresPerUnit, info.unit],
  );
  if (!doubt) return null;
  const { times, likely } = doubt;
  const compared =
    times === undefined
      ? ""
      : times > 1
        ? `, ${formatNumber(times, 2)} times as wide as all that stands on it`
        : `, and all that stands on it is ${formatNumber(1 / times, 2)} times as wide`;
  return (
    <div role="alert" data-testid="scale-doubt" className="mb-2 rounded-md border border-buoy px-3 py-2">
      <p>
        At this scale the drawing is {sizeText(info, drawing.metresPerUnit, study.units)}
        {compared}.
        {likely
          ? ` In ${likely.label} it is ${sizeText(info, likely.metres, study.units)}.`
          : " Set its scale by a known length."}
      </p>
      {likely && !drawing.locked && (
        <button
          className="button mt-1.5"
          onClick={() =>
            changeDrawing(
              drawing.id,
              `Take ${drawing.name} as ${likely.label}`,
              (d) => void (d.metresPerUnit = likely.metres),
            )
          }
        >
          It is in {likely.label}
        </button>
      )}
    </div>
  );
}

function ScaleRows({ drawing, info, study }: { drawing: Drawing; info: FileInfo; study: Study }) {
  const { units } = study;
  const unit = unitOf(drawing.metresPerUnit);
  const picture = info.format !== "dxf";
  const set = (metres: number, name = "Change scale") =>
    changeDrawing(drawing.id, `${name} of ${drawing.name}`, (d) => void (d.metresPerUnit = metres), "scale");
  const positive = (metres: number) => metres > 0 && metres <= 1e6 && set(metres);
  const words = picture
    ? `${formatNumber(info.width)} by ${formatNumber(info.height)} ${info.format === "svg" ? "units" : "pixels"}`
    : `${formatNumber(info.lines)} lines`;
  return (
    <Section title="Scale">
      {!picture && (
        <ChoiceRow
          name="drawing-unit"
          label="Drawn in"
          value={unit?.id ?? "other"}
          problems={[]}
          sample={info.unit ? undefined : "The file does not say: check a length you know."}
          choices={[
            ...DRAWING_UNITS.map((u) => [u.id as string, `${u.label}: ${sizeText(info, u.metres, units)}`] as const),
            ...(unit ? [] : [["other", "another scale"] as const]),
          ]}
          onChange={(choice) => {
            const chosen = DRAWING_UNITS.find((u) => u.id === choice);
            if (chosen) set(chosen.metres, "Change unit");
          }}
        />
      )}
      <LengthRow
        name="drawing-scale"
        label={info.format === "dxf" || info.format === "svg" ? "One unit is" : "One pixel is"}
        digits={FULL}
        metres={drawing.metresPerUnit}
        units={units}
        onChange={positive}
      />
      <p className="py-0.5 text-soft" data-testid="drawing-size">
        In all {sizeText(info, drawing.metresPerUnit, units)}; {words}.
      </p>
      <KnownLength drawing={drawing} study={study} />
    </Section>
  );
}

/** Sets the scale by two points picked on the floor and their true distance. */
function KnownLength({ drawing, study }: { drawing: Drawing; study: Study }) {
  const picked = useDrawings((s) => s.picked);
  const [typed, setTyped] = useState("");
  if (!picked) {
    return (
      <button
        className="button mt-1"
        onClick={() => {
          setTyped("");
          useDrawings.setState({ picked: [] });
        }}
      >
        <Ruler size={14} /> Set by a known length
      </button>
    );
  }
  const [first, second] = picked;
  const distance = first && second ? Math.hypot(second[0] - first[0], second[1] - first[1]) : undefined;
  const metres = readLength(typed, study.units);
  const result =
    first && second && metres !== undefined ? scaledByTwoPoints(drawing, first, second, metres) : undefined;
  const problem: Problem = {
    code: "bad-length",
    severity: "error",
    path: [],
    message: "This is not a length above 0.",
    hint: `Write it as ${showLength(12.5, study.units)}.`,
  };
  return (
    <form
      className="mt-1 rounded-md border border-action px-3 py-2"
      aria-label="Known length"
      onSubmit={(event) => {
        event.preventDefault();
        if (!result) return;
        changeDrawing(drawing.id, `Set scale of ${drawing.name}`, (d) => void Object.assign(d, result));
        useDrawings.setState({ picked: undefined });
      }}
    >
      <p aria-live="polite">
        {!first
          ? "Click one end of a length you know, on the floor."
          : !second
            ? "Click the other end."
            : `They are ${showLength(distance!, study.units)} apart now.`}
      </p>
      {second && (
        <TextRow
          name="true-length"
          label="Truly"
          value={typed}
          problems={typed !== "" && !result ? [problem] : []}
          onChange={setTyped}
          onEnter={(form) => form?.requestSubmit()}
        />
      )}
      <div className="flex gap-1.5 pt-1">
        {second && (
          <button className="button button-main" disabled={!result}>
            Set scale
          </button>
        )}
        {first && (
          <button type="button" className="button" onClick={() => useDrawings.setState({ picked: [] })}>
            Pick again
          </button>
        )}
        <button type="button" className="button" onClick={() => useDrawings.setState({ picked: undefined })}>
          Leave
        </button>
      </div>
    </form>
  );
}

function Layers({ drawing, info }: { drawing: Drawing; info: FileInfo }) {
  const set = (name: string, what: string, recipe: (own: Drawing["layers"][string]) => void) =>
    changeDrawing(
      drawing.id,
      `${what} layer ${name}`,
      (d) => {
        const own = Object.hasOwn(d.layers, name) ? d.layers[name] : (d.layers[name] = {});
        recipe(d.layers[name] ?? own);
      },
      `layer/${name}/${what}`,
    );
  const used = info.layers.filter((l) => l.count > 0);
  const shownOf = (name: string, inFile: boolean) => drawing.layers[name]?.visible ?? inFile;
  const all = (visible: boolean) =>
    changeDrawing(drawing.id, visible ? "Show all layers" : "Hide all layers", (d) => {
      for (const { name } of used) d.layers[name] = { ...d.layers[name], visible };
    });
  return (
    <Section title={`Layers (${used.filter((l) => shownOf(l.name, l.shown)).length} of ${used.length} shown)`}>
      <div className="flex gap-1.5 pb-1">
        <button className="button" onClick={() => all(true)}>
          Show all
        </button>
        <button className="button" onClick={() => all(false)}>
          Hide all
        </button>
      </div>
      <ul aria-label="Layers">
        {used.map(({ name, count, shown, colour }) => {
          const own = Object.hasOwn(drawing.layers, name) ? drawing.layers[name] : {};
          const strength = Math.round((own.opacity ?? drawing.opacity) * 100);
          return (
            <li key={name} className="grid grid-cols-[1fr_30px_18px_64px] items-center gap-x-2 py-0.5">
              <Checkbox
                className="flex min-w-0 items-center gap-1.5"
                title={`${name}: ${formatNumber(count)} lines`}
                checked={own.visible ?? shown}
                onChange={(on) => set(name, on ? "Show" : "Hide", (l) => void (l.visible = on))}
              >
                <span className="truncate">{name}</span>
                <span className="ml-auto text-xs text-soft tabular-nums">{formatNumber(count)}</span>
              </Checkbox>
              <ColourField
                label={`Colour of layer ${name}`}
                title={own.colour ? "Colour" : "Colour: as in the file"}
                className="h-5 w-7"
                value={own.colour ?? (colour === INK ? COLOURS.ink : hex(colour))}
                onChange={(v) => set(name, "Recolour", (l) => void (l.colour = v))}
              />
              {own.colour ? (
                <button
                  className="text-soft"
                  aria-label={`Colour of layer ${name} as in the file`}
                  data-tip="As in the file"
                  onClick={() => set(name, "Recolour", (l) => void delete l.colour)}
                >
                  <RotateCcw size={12} />
                </button>
              ) : (
                <span />
              )}
              <Slider
                label={`Strength of layer ${name}`}
                most={100}
                value={strength}
                valueText={`${strength} %`}
                onChange={(v) => set(name, "Fade", (l) => void (l.opacity = v / 100))}
              />
            </li>
          );
        })}
      </ul>
    </Section>
  );
}

const hex = (colour: number) => `#${colour.toString(16).padStart(6, "0")}`;

/** Degrees of a text such as "90" or "−12.5°". */
function readAngle(text: string): number | undefined {
  const bare = text
    .replace("−", "-")
    .replace(/°|degrees?|deg/, "")
    .trim();
  return bare !== "" && Math.abs(Number(bare)) <= 360 ? Number(bare) : undefined;
}
