import {
  dimensionSymbol,
  displayUnit,
  formatDuration,
  formatNumber,
  type Knowing,
  pick,
  pickedAs,
  type Picked,
  type Study,
  type ValueType,
  waysFor,
} from "@busy-harbor/core";
import { RotateCw } from "lucide-react";
import { useId, useMemo, useState } from "react";
import { useForm } from "react-hook-form";
import { Area, AreaChart, Bar, BarChart, ReferenceLine, XAxis, YAxis } from "recharts";
import { Choice } from "../ui/Choice.tsx";

const DRAWS = 10;
const [WIDTH, HEIGHT] = [372, 104];

/** Chooses a distribution by what one knows, shows it, and writes it. */
export default function PickDistribution({
  text,
  wanted,
  units,
  onWrite,
}: {
  /** What the place holds now. */
  text: string;
  wanted: ValueType;
  units: Study["units"];
  onWrite: (text: string) => void;
}) {
  const id = useId();
  const ways = useMemo(() => waysFor(wanted), [wanted]);
  const symbol = wanted.kind === "number" ? displayUnit(wanted.dimension, units).symbol : "";
  const now = pickedAs(text);
  const { register, watch, setValue, handleSubmit } = useForm<{ way: string; asked: Record<string, string> }>({
    defaultValues: {
      way: now && ways.includes(now.way) ? now.way.id : ways[1].id,
      asked: askedAtFirst(ways, symbol, now),
    },
  });
  const [seed, setSeed] = useState(1);
  const { way: wayId, asked } = watch();
  const way = ways.find((w) => w.id === wayId)!;
  const typed = way.asks.map(({ name }) => asked[keyOf(name)] ?? "");
  const joined = typed.join("\n");
  const result = useMemo(() => pick(way, joined.split("\n"), wanted), [way, joined, wanted]);
  const words = (value: number) => wordsOf(value, wanted);
  const problemAt = (at: number) => (!result.ok && result.at === at ? result.message : undefined);
  return (
    <form
      aria-label="Pick a distribution"
      onSubmit={(event) => {
        event.stopPropagation();
        void handleSubmit(() => result.ok && onWrite(result.picked.text))(event);
      }}
    >
      <p className="pb-1 font-semibold">What do you know of it?</p>
      <Choice
        label="What you know"
        value={wayId}
        options={ways.map(({ id: value, knows }) => ({ value, label: knows }))}
        onChange={(next) => setValue("way", next)}
      />
      <p className="min-h-9 py-1.5 text-xs text-soft">{way.about}</p>
      <div className="flex gap-2">
        {way.asks.map(({ name }, at) => (
          <div key={name} className="min-w-0 grow basis-0">
            <label htmlFor={`${id}${at}`} className="block truncate pb-0.5 text-xs text-soft first-letter:uppercase">
              {name}
            </label>
            <input
              id={`${id}${at}`}
              className="field mono"
              autoComplete="off"
              aria-invalid={problemAt(at) !== undefined}
              aria-describedby={problemAt(at) ? `${id}-problem` : undefined}
              {...register(`asked.${keyOf(name)}`)}
            />
          </div>
        ))}
      </div>
      {!result.ok && (
        <p id={`${id}-problem`} role="alert" className="pt-1 text-xs text-buoy-deep">
          {result.message}
        </p>
      )}
      <div className="h-[196px] pt-2">
        {result.ok && (
          <>
            <Shape picked={result.picked} words={words} />
            <dl className="grid grid-cols-3 gap-x-3 pt-1 tabular-nums">
              <Figure name="Mean" words={words(result.picked.mean)} />
              <Figure name="Standard deviation" words={words(result.picked.sd)} />
              <Figure name="Nine in ten lie in" words={`${words(result.picked.low)} to ${words(result.picked.high)}`} />
            </dl>
            <p className="flex items-start gap-1.5 pt-1.5 text-xs text-soft">
              <span className="min-w-0 grow" data-testid="draws">
                Ten draws: {result.picked.draws(seed, DRAWS).map(words).join(", ")}
              </span>
              <button
                type="button"
                className="shrink-0 rounded p-0.5 text-action"
                aria-label="Ten other draws"
                data-tip="Ten other draws"
                onClick={() => setSeed((s) => s + 1)}
              >
                <RotateCw size={13} />
              </button>
            </p>
          </>
        )}
      </div>
      <div className="flex items-center gap-2 border-t border-line pt-2.5">
        <span className="mono min-w-0 grow text-xs break-words" data-testid="picked">
          {result.ok ? result.picked.text : ""}
        </span>
        <button className="button button-main" disabled={!result.ok}>
          Write it
        </button>
      </div>
    </form>
  );
}

/** Names of what is asked as keys of a form, which takes no spaces. */
const keyOf = (name: string): string => name.replaceAll(" ", "_");

/** What is asked at first: what the expression says now, else numbers to begin with. */
function askedAtFirst(
  ways: readonly Knowing[],
  symbol: string,
  now: ReturnType<typeof pickedAs>,
): Record<string, string> {
  const asked: Record<string, string> = {};
  for (const { asks } of ways)
    for (const { name, typical, plain } of asks)
      asked[keyOf(name)] ??= plain || symbol === "" ? typical : `${typical} ${symbol}`;
  now?.way.asks.forEach(({ name }, at) => (asked[keyOf(name)] = now.typed[at]));
  return asked;
}

function wordsOf(value: number, wanted: ValueType): string {
  if (!Number.isFinite(value)) return "endless";
  const symbol = wanted.kind === "number" ? dimensionSymbol(wanted.dimension) : "";
  return symbol === "s" ? formatDuration(value, 3) : `${formatNumber(value, 3)} ${symbol}`.trim();
}

function Figure({ name, words }: { name: string; words: string }) {
  return (
    <div>
      <dt className="text-xs text-soft">{name}</dt>
      <dd>{words}</dd>
    </div>
  );
}

/** How its draws lie, with the mean marked. */
function Shape({ picked, words }: { picked: Picked; words: (value: number) => string }) {
  const { shape, mean, isCount } = picked;
  const data = shape.map(([value, density]) => ({ value, density }));
  const [first, last] = [shape[0][0], shape[shape.length - 1][0]];
  const axes = [
    <XAxis
      key="x"
      dataKey="value"
      type="number"
      domain={isCount ? [first - 0.5, last + 0.5] : [first, last]}
      ticks={first < last ? [first, last] : [first]}
      tickFormatter={words}
      interval={0}
      tick={{ fontSize: 11, fill: "var(--color-soft)" }}
      tickLine={false}
      stroke="var(--color-ink)"
      height={18}
      padding={{ left: 4, right: 4 }}
    />,
    <YAxis key="y" hide domain={[0, 1.05]} />,
    <ReferenceLine key="mean" x={mean} stroke="var(--color-buoy)" strokeDasharray="4 3" />,
  ];
  const size = { width: WIDTH, height: HEIGHT, margin: { top: 4, right: 34, bottom: 0, left: 34 } };
  return (
    <div role="img" aria-label={`Its shape, from ${words(first)} to ${words(last)}; the mean is ${words(mean)}`}>
      {isCount ? (
        <BarChart {...size} data={data} accessibilityLayer={false}>
          {axes}
          <Bar dataKey="density" fill="var(--color-action)" isAnimationActive={false} />
        </BarChart>
      ) : (
        <AreaChart {...size} data={data} accessibilityLayer={false}>
          {axes}
          <Area
            dataKey="density"
            type="linear"
            stroke="var(--color-action)"
            strokeWidth={1.6}
            fill="var(--color-action)"
            fillOpacity={0.14}
            activeDot={false}
            isAnimationActive={false}
          />
        </AreaChart>
      )}
    </div>
  );
}
