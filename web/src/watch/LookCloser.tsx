import {
  type Design,
  displayUnit,
  formatClock,
  formatNumber,
  type Frame,
  LENGTH,
  type Model,
  type Study,
} from "@busy-harbor/core";
import { useState } from "react";
import { Checkbox } from "../ui/Checkbox.tsx";
import { Choice } from "../ui/Choice.tsx";
import { doingOf, type Followed, youngest } from "./following.ts";
import type { Heat } from "./heat.ts";
import { useLook } from "./lookStore.ts";

interface Props {
  readonly frame: Frame | undefined;
  readonly study: Study;
  readonly design: Design;
  readonly model: Model;
  /** What has been seen since it was asked for. */
  readonly heat: () => Heat | undefined;
}

const valueOf = (of: Followed | undefined): string =>
  of === undefined ? "" : of.kind === "entity" ? "now" : `${of.kind} ${of.element} ${of.number}`;

/** Who of those that are watched is followed, and whether traffic is shown as heat. */
export function LookCloser({ frame, study, design, model, heat }: Props) {
  const { followed, follow, heat: isHot, setHeat } = useLook();
  const seen = frame && followed && doingOf(followed, frame, design);
  /** What one that is followed was called when it was seen last. */
  const [known, setKnown] = useState<{ readonly of: Followed; readonly name: string }>();
  if (seen && followed && (known?.of !== followed || known.name !== seen.name))
    setKnown({ of: followed, name: seen.name });
  const last = known && known.of === followed ? known.name : "It";
  const movers = frame ? [...moversOf(frame, design)] : [];
  return (
    <section aria-label="Look closer" className="panel float px-4 py-3">
      <div className="flex items-center gap-2">
        <span id="follow-label" className="w-16 text-soft">
          Follow
        </span>
        <Choice
          className="grow"
          label="Follow"
          value={valueOf(followed)}
          options={[
            { value: "", label: "nobody" },
            ...(followed?.kind === "entity" ? [{ value: "now", label: seen?.name ?? `${last}, which has left` }] : []),
            ...model.types.map(({ type, index }) => ({
              value: `type ${index}`,
              label: `the youngest ${type.name}`,
              under: "Entities",
            })),
            ...movers.map(({ of, name }) => ({ value: valueOf(of), label: name, under: "Vehicles and people" })),
          ]}
          onChange={(value) => {
            if (value === "now" || !frame) return;
            if (value === "") return follow(undefined);
            const [kind, number] = value.split(" ");
            follow(
              kind === "type" ? youngest(frame, Number(number)) : movers.find(({ of }) => valueOf(of) === value)?.of,
            );
          }}
        />
      </div>
      <p className="min-h-5 pt-1 text-xs text-soft" data-testid="followed" aria-live="off">
        {followed === undefined
          ? "Or click one on the floor."
          : seen
            ? `${seen.name} is ${seen.does}${seen.since === undefined ? "" : `, since ${formatClock(model.days.wall(seen.since) % 86_400)}`}.`
            : `${last} has left.`}
      </p>
      <Checkbox className="flex items-center gap-2 pt-1" checked={isHot} onChange={setHeat}>
        Show traffic and use as heat
      </Checkbox>
      {isHot && <HeatLegend heat={heat()} study={study} />}
    </section>
  );
}

function HeatLegend({ heat, study }: { heat: Heat | undefined; study: Study }) {
  const { symbol, factor } = displayUnit(LENGTH, study.units);
  if (!heat || heat.seconds === 0) return <p className="pt-1 text-xs text-soft">It gathers while it is watched.</p>;
  return (
    <div className="pt-1 text-xs text-soft" data-testid="heat-legend">
      <div className="flex items-center gap-2">
        0
        <span
          className="h-2.5 grow rounded-sm border border-line"
          style={{ background: "linear-gradient(to right, transparent, var(--color-buoy))" }}
        />
        {formatNumber(heat.most, 2)}
      </div>
      on the move on average, in a square of {formatNumber(heat.cell / factor)} {symbol}
    </div>
  );
}

function* moversOf({ carriers, members }: Frame, { elements }: Design): Generator<{ of: Followed; name: string }> {
  for (const [kind, list] of [["vehicle", carriers] as const, ["member", members] as const])
    for (let i = 0; i < Math.min(list.count, MOST_NAMED); i++) {
      const [element, number] = [list.element[i], list.number[i]];
      yield { of: { kind, element, number }, name: `${elements[element]?.name ?? ""} ${number + 1}` };
    }
}

/** So many of each are listed; others are clicked. */
const MOST_NAMED = 60;
