import { formatDuration, formatNumber, type Study } from "@busy-harbor/core";
import { mser, welchAverage } from "@busy-harbor/core/inference";
import { Dialog } from "radix-ui";
import { useMemo, useState } from "react";
import { CartesianGrid, Line, LineChart, ReferenceLine, XAxis, YAxis } from "recharts";
import { TICK, timeUnit } from "../charts/axes.ts";
import { useCompiled } from "../state/compiled.ts";
import { useStudy } from "../state/study.ts";
import { announce } from "../ui/announce.ts";
import { SearchedChoice } from "../ui/SearchedChoice.tsx";
import { Slider } from "../ui/Slider.tsx";
import type { Settled } from "./settling.worker.ts";
import { PIECES, REPLICATIONS, useSettling } from "./useSettling.ts";

const WIDTH = 720;
const HEIGHT = 260;
/** Neighbours on either side over which the curve is smoothed at first, and at most. */
const WINDOW = 10;
const WIDEST = 50;

/** How a design settles after its start: Welch's average over replications, and where MSER-5 cuts. */
export default function WarmUpDialog({
  study,
  designId,
  onClose,
}: {
  study: Study;
  designId: string;
  onClose: () => void;
}) {
  const { settled, done, problem } = useSettling(study, designId);
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/15" />
        <Dialog.Content
          aria-describedby={undefined}
          data-testid="warm-up-dialog"
          className="panel float fixed top-[10vh] left-1/2 z-50 w-[min(780px,96vw)] -translate-x-1/2 p-5"
        >
          <Dialog.Title className="pb-1 text-base">How it settles</Dialog.Title>
          <p className="pb-3 text-soft">
            {REPLICATIONS} replications of {study.run.length} without warm-up, each in {PIECES} pieces.
          </p>
          {problem ? (
            <p role="alert" className="text-buoy-deep">
              {problem}
            </p>
          ) : settled ? (
            <Curves study={study} settled={settled} onClose={onClose} />
          ) : (
            <>
              <div
                className="h-1.5 overflow-hidden rounded-full bg-line"
                role="progressbar"
                aria-label="Replications"
                aria-valuenow={done}
                aria-valuemax={REPLICATIONS}
              >
                <div className="h-full bg-action" style={{ width: `${(done / REPLICATIONS) * 100}%` }} />
              </div>
              <div className="flex items-center gap-3 pt-3">
                <span className="grow text-soft">
                  {done} of {REPLICATIONS} replications
                </span>
                <button className="button" onClick={onClose}>
                  Cancel
                </button>
              </div>
            </>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Curves({
  study,
  settled: { measures, series },
  onClose,
}: {
  study: Study;
  settled: Settled;
  onClose: () => void;
}) {
  const change = useStudy((s) => s.change);
  const length = useCompiled()?.model.length ?? 0;
  const [picked, setPicked] = useState<string>();
  const [width, setWidth] = useState(WINDOW);
  const at = Math.max(
    0,
    measures.findIndex(({ key, measure, ownerKind }) =>
      picked === undefined ? measure === "inSystem" && ownerKind === "entity type" : key === picked,
    ),
  );
  const info = measures[at];
  const each = useMemo(() => series.map((one) => one[at] ?? []), [series, at]);
  const means = useMemo(() => (info ? welchAverage(each, 0) : []), [each, info]);
  const smooth = useMemo(
    () => (info ? welchAverage(each, Math.min(width, Math.floor(means.length / 4))) : []),
    [each, info, width, means],
  );
  const cut = useMemo(() => mser(means), [means]);
  if (!info) return <p className="text-soft">The design has no level whose settling could be followed.</p>;
  const unit = timeUnit(length);
  const timeOf = (piece: number) => (piece * length) / PIECES / unit.factor;
  const points = means.map((mean, i) => ({ time: timeOf(i + 0.5), mean, smooth: smooth[i] }));
  const suggestion = cut && (cut.truncateAt * length) / PIECES;
  // A cut at the end of where one is looked for says that it goes on beyond.
  const isLate = cut !== undefined && cut.truncateAt >= 0.45 * means.length;
  const words = suggestion === undefined ? "" : suggestion === 0 ? "0 s" : formatDuration(suggestion);
  return (
    <>
      <div className="flex flex-wrap items-center gap-3 pb-2">
        <SearchedChoice
          label="What is followed"
          options={measures.map(({ key, label, owner }) => ({ value: key, label, under: owner }))}
          onChoose={setPicked}
        >
          {info.owner}: {info.label}
        </SearchedChoice>
        <label className="ml-auto flex items-center gap-2 text-soft">
          Smoothed over
          <Slider
            label="Neighbours on either side"
            className="w-32"
            most={WIDEST}
            value={width}
            valueText={`${width} pieces on either side`}
            onChange={setWidth}
          />
          <span className="w-16 tabular-nums">± {width}</span>
        </label>
      </div>
      <div role="img" aria-label={`${info.owner}: ${info.label}, over the time of a replication`}>
        <LineChart
          accessibilityLayer={false}
          width={WIDTH}
          height={HEIGHT}
          data={points}
          margin={{ top: 8, right: 12, bottom: 16, left: 0 }}
        >
          <CartesianGrid stroke="var(--color-line)" vertical={false} />
          <XAxis
            type="number"
            dataKey="time"
            domain={[0, timeOf(PIECES)]}
            tickCount={9}
            tick={TICK}
            tickFormatter={(value: number) => formatNumber(value, 3)}
            stroke="var(--color-ink)"
            label={{
              value: `time, ${unit.symbol}`,
              position: "insideBottom",
              offset: -10,
              fontSize: 11,
              fill: "var(--color-soft)",
            }}
          />
          <YAxis
            width={44}
            tick={TICK}
            tickFormatter={(value: number) => formatNumber(value, 3)}
            tickLine={false}
            axisLine={false}
          />
          <Line
            dataKey="mean"
            stroke="var(--color-soft)"
            strokeOpacity={0.5}
            strokeWidth={1}
            dot={false}
            isAnimationActive={false}
          />
          <Line dataKey="smooth" stroke="var(--color-action)" strokeWidth={2.2} dot={false} isAnimationActive={false} />
          {suggestion !== undefined && (
            <ReferenceLine x={suggestion / unit.factor} stroke="var(--color-buoy)" strokeDasharray="4 3" />
          )}
        </LineChart>
      </div>
      <p className="pt-2" data-testid="suggestion">
        {suggestion === undefined
          ? "Too few pieces to tell where it settles."
          : isLate
            ? `It has not settled for certain in the first half of the run: MSER-5 cuts at ${words}, the end of where it looks. Lengthen the run.`
            : `MSER-5 suggests a warm-up of ${words}.`}
      </p>
      <p className="max-w-2xl pt-1 text-xs text-soft">
        Thin: the mean over the replications, piece by piece. Thick: Welch's moving average of it (Law 2015, section
        9.5.1); where it runs level, the start is forgotten. Dashed: the cut that leaves the least marginal standard
        error of the mean over the replications, in batches of five pieces, looked for in the first half (White, Cobb
        and Spratt 2000).
      </p>
      <div className="flex justify-end gap-2 pt-3">
        <button className="button" onClick={onClose}>
          Leave it at {study.run.warmUp}
        </button>
        {suggestion !== undefined && (
          <button
            className="button button-main"
            onClick={() => {
              change("Take the warm-up that was suggested", (s) => void (s.run.warmUp = words));
              announce(`The warm-up is ${words} now.`);
              onClose();
            }}
          >
            Take {words}
          </button>
        )}
      </div>
    </>
  );
}
