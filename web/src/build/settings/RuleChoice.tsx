import { type ElementOf, UNIT } from "@busy-harbor/core";
import { RadioGroup } from "radix-ui";

/** A stretch of minutes in which a slot is in a state, a `UNIT`. */
type Stretch = readonly [from: number, until: number, state: number];

interface Drawn {
  readonly words: string;
  /** What the slot does, with one job of 50 min. */
  readonly slot: readonly Stretch[];
  /** Where the entity is done, or thrown away. */
  readonly end: readonly [at: number, good: boolean];
}

const { busy, offShift, down } = UNIT;

/** The job begins 30 min before the pause from 60 to 90. */
const BELL: Readonly<Record<ElementOf<"station">["atBell"], Drawn>> = {
  "finish, then full break": {
    words: "finishes; then the pause, in full",
    slot: [
      [30, 80, busy],
      [80, 110, offShift],
    ],
    end: [80, true],
  },
  "finish, keep the timetable": {
    words: "finishes; the pause ends on time",
    slot: [
      [30, 80, busy],
      [80, 90, offShift],
    ],
    end: [80, true],
  },
  "pause at the bell": {
    words: "stands still in the pause",
    slot: [
      [30, 60, busy],
      [60, 90, offShift],
      [90, 110, busy],
    ],
    end: [110, true],
  },
};

/** The breakdown is from 60 to 80. */
const DOWN: Readonly<Record<ElementOf<"station">["onBreakdown"], Drawn>> = {
  "pause and resume": {
    words: "goes on with what is left",
    slot: [
      [30, 60, busy],
      [60, 80, down],
      [80, 100, busy],
    ],
    end: [100, true],
  },
  "start over": {
    words: "is done again from its start",
    slot: [
      [30, 60, busy],
      [60, 80, down],
      [80, 130, busy],
    ],
    end: [130, true],
  },
  scrap: {
    words: "is scrapped with its entity",
    slot: [
      [30, 60, busy],
      [60, 80, down],
    ],
    end: [60, false],
  },
};

const WIDTH = 132;
const x = (minute: number) => (minute - 20) * 1.1 + 2;

const FILLS: Readonly<Record<number, string>> = {
  [busy]: "var(--color-busy)",
  [offShift]: "url(#rule-off)",
  [down]: "url(#rule-down)",
};

/** A bar of time above, for the shift or the machine, and one below, for the slot. */
function Drawing({ drawn, gap, gapState }: { drawn: Drawn; gap: readonly [number, number]; gapState: number }) {
  return (
    <svg width={WIDTH} height={26} aria-hidden className="shrink-0">
      <line x1={2} x2={WIDTH - 2} y1={5} y2={5} stroke="var(--color-ink)" strokeWidth={1.5} />
      <rect x={x(gap[0])} width={x(gap[1]) - x(gap[0])} y={2} height={6} fill="var(--color-sheet)" />
      <line x1={x(gap[0])} x2={x(gap[0])} y1={1} y2={9} stroke="var(--color-ink)" />
      <line x1={x(gap[1])} x2={x(gap[1])} y1={1} y2={9} stroke="var(--color-ink)" />
      <text x={(x(gap[0]) + x(gap[1])) / 2} y={8} fontSize={8} textAnchor="middle" fill="var(--color-soft)">
        {gapState === down ? "down" : "pause"}
      </text>
      {drawn.slot.map(([from, until, state]) => (
        <rect
          key={from}
          x={x(from)}
          width={x(until) - x(from)}
          y={13}
          height={11}
          fill={FILLS[state]}
          stroke={state === busy ? "none" : "var(--color-soft)"}
          strokeWidth={0.8}
        />
      ))}
      {drawn.end[1] ? (
        <circle
          cx={x(drawn.end[0])}
          cy={18.5}
          r={3}
          fill="var(--color-sheet)"
          stroke="var(--color-ink)"
          strokeWidth={1.3}
        />
      ) : (
        <path d={`M${x(drawn.end[0]) - 3.5} 15l7 7m0-7l-7 7`} stroke="var(--color-buoy)" strokeWidth={1.8} />
      )}
    </svg>
  );
}

function Choice<T extends string>({
  legend,
  value,
  rules,
  gap,
  gapState,
  onChange,
}: {
  legend: string;
  value: T;
  rules: Readonly<Record<T, Drawn>>;
  gap: readonly [number, number];
  gapState: number;
  onChange: (value: T) => void;
}) {
  return (
    <fieldset className="py-1">
      <legend className="pb-0.5 text-soft">{legend}</legend>
      <svg width={0} height={0} className="absolute" aria-hidden>
        <pattern id="rule-off" width={4} height={4} patternUnits="userSpaceOnUse">
          <path d="M1 0v4" stroke="var(--color-soft)" strokeWidth={1} />
        </pattern>
        <pattern id="rule-down" width={4} height={4} patternUnits="userSpaceOnUse">
          <path d="M0 0l4 4M4 0L0 4" stroke="var(--color-buoy)" strokeWidth={0.8} />
        </pattern>
      </svg>
      <RadioGroup.Root aria-label={legend} value={value} onValueChange={(next) => onChange(next as T)}>
        {(Object.keys(rules) as T[]).map((rule) => (
          <RadioGroup.Item
            key={rule}
            value={rule}
            className="flex w-full cursor-pointer items-center gap-2 rounded-md px-1 py-0.5 text-left data-[state=checked]:bg-water"
          >
            <span className="flex h-3.5 w-3.5 shrink-0 items-center justify-center rounded-full border border-soft bg-sheet">
              <RadioGroup.Indicator className="h-2 w-2 rounded-full bg-action" />
            </span>
            <Drawing drawn={rules[rule]} gap={gap} gapState={gapState} />
            <span className="text-xs leading-tight">{rules[rule].words}</span>
          </RadioGroup.Item>
        ))}
      </RadioGroup.Root>
    </fieldset>
  );
}

/**
 * The three rules for work in progress when the calendar takes capacity away, each as a drawing of one pause and one
 * job.
 */
export const BellChoice = (props: {
  value: ElementOf<"station">["atBell"];
  onChange: (value: ElementOf<"station">["atBell"]) => void;
}) => (
  <Choice legend="Work in progress when a pause begins …" rules={BELL} gap={[60, 90]} gapState={offShift} {...props} />
);

/** The three rules for work in progress on a breakdown. */
export const BreakdownChoice = (props: {
  value: ElementOf<"station">["onBreakdown"];
  onChange: (value: ElementOf<"station">["onBreakdown"]) => void;
}) => <Choice legend="Work in progress on a breakdown …" rules={DOWN} gap={[60, 80]} gapState={down} {...props} />;
