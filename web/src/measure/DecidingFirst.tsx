import {
  type DecidingModel,
  formatNumber,
  readDeciding,
  type Study,
  targetVerdict,
  type Verdict,
} from "@busy-harbor/core";
import { replicationsFor } from "@busy-harbor/core/inference";
import { Link } from "react-router";
import { useMemo } from "react";
import { useStudy } from "../state/study.ts";
import { meanText, type Reading } from "./readings.ts";
import { worthALook } from "./worthALook.ts";

const VERDICTS: Readonly<Record<Verdict, { readonly words: string; readonly look: string }>> = {
  met: { words: "target met", look: "border-action text-action" },
  missed: { words: "target missed", look: "border-buoy text-buoy-deep" },
  open: { words: "not to be told yet", look: "border-line text-soft" },
};

/** What a run says first: the deciding measures against their targets, then what deserves a look. */
export function DecidingFirst({
  study,
  readings,
  onPick,
}: {
  study: Study;
  readings: readonly Reading[];
  /** Shows a measure, by its key. */
  onPick: (key: string) => void;
}) {
  const studyId = useStudy((s) => s.id);
  const list = study.frame?.deciding;
  const deciding = useMemo(
    () =>
      readDeciding(
        list ?? [],
        readings.map(({ measure }) => measure),
      ),
    [list, readings],
  );
  const remarks = useMemo(() => worthALook(readings), [readings]);
  return (
    <>
      {deciding.length > 0 ? (
        <section aria-label="Deciding measures" className="pb-4">
          <h2 className="pb-1 font-semibold">What decides</h2>
          <div className="grid grid-cols-[repeat(auto-fill,minmax(250px,1fr))] gap-3" data-testid="deciding">
            {deciding.map((one) => (
              <Figure
                key={one.deciding.id}
                of={one}
                reading={readings.find((r) => r.measure.key === one.deciding.measure)}
                level={study.run.level}
                onPick={onPick}
              />
            ))}
          </div>
        </section>
      ) : (
        <p className="pb-4 text-soft">
          No deciding measures are set:{" "}
          <Link className="text-action underline underline-offset-2" to={`/study/${studyId}/frame`}>
            Frame
          </Link>{" "}
          says which figures decide, and they then stand here first.
        </p>
      )}
      {remarks.length > 0 && (
        <section aria-label="What deserves a look" className="pb-5">
          <h2 className="pb-1 font-semibold">What deserves a look</h2>
          <ul className="max-w-3xl space-y-1" data-testid="remarks">
            {remarks.map(({ key, text, weight }) => (
              <li key={`${key}${text}`}>
                <button
                  className={`w-full rounded-md border-l-[3px] px-3 py-1 text-left hover:bg-water ${weight >= 4 ? "border-buoy bg-warn" : weight >= 2 ? "border-amber bg-sheet" : "border-line bg-sheet"}`}
                  onClick={() => onPick(key)}
                >
                  {text}
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

function Figure({
  of: { deciding, info, target },
  reading,
  level,
  onPick,
}: {
  of: DecidingModel;
  reading: Reading | undefined;
  level: number;
  onPick: (key: string) => void;
}) {
  if (!reading || !info)
    return (
      <div className="panel px-4 py-2.5 text-soft">
        <span className="block truncate text-xs">{deciding.measure}</span>
        This run has no such measure.
      </div>
    );
  const { interval, unit, factor } = reading;
  const { mean, halfWidth } = meanText(interval);
  const verdict = target === undefined ? undefined : targetVerdict(interval, target / factor, deciding.better);
  return (
    <button
      className="panel px-4 py-2.5 text-left hover:bg-water"
      data-measure={deciding.measure}
      onClick={() => onPick(deciding.measure)}
    >
      <span className="block truncate text-xs text-soft">{info.owner}</span>
      <span className="block truncate font-medium">{info.label}</span>
      <span className="block py-0.5 text-lg tabular-nums">
        {mean}
        {halfWidth && <span className="text-soft"> ± {halfWidth}</span>} {unit}
      </span>
      {target === undefined ? (
        <span className="text-xs text-soft">{deciding.better} is better; no target</span>
      ) : (
        <span className="flex flex-wrap items-center gap-2 text-xs text-soft">
          <span>
            {deciding.better === "less" ? "at most" : "at least"} {formatNumber(target / factor)} {unit}
          </span>
          <span className={`rounded-full border bg-sheet px-2 ${VERDICTS[verdict!].look}`} data-verdict={verdict}>
            {interval.n < 2 ? "a single sample" : VERDICTS[verdict!].words}
          </span>
          {verdict === "open" && <More interval={interval} target={target / factor} level={level} />}
        </span>
      )}
    </button>
  );
}

/** How many replications would tell, by what those so far show. */
function More({ interval, target, level }: { interval: Reading["interval"]; target: number; level: number }) {
  const { n, mean, sd } = interval;
  if (n < 2) return null;
  const wanted = replicationsFor(mean, sd, level, { halfWidth: Math.abs(mean - target) });
  return (
    <span>
      {wanted > 1_000_000
        ? "too near its target for any number of replications"
        : `about ${formatNumber(wanted, 3)} replications would tell`}
    </span>
  );
}
