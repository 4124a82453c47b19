import { type Calendar, DAY, formatNumber, readCalendar, secondsOfDay } from "@busy-harbor/core";

const DAYS = 14;

/** What a calendar gives in the first two weeks of the run, day by day, and what that comes to. */
export function Preview({ calendar, start }: { calendar: Calendar; start: string }) {
  const { timetable } = readCalendar(calendar, start);
  if (!timetable) return <p className="text-soft">The next two weeks are shown once its problems are mended.</p>;
  const startOfDay = secondsOfDay(start.slice(11));
  const end = DAYS * DAY - startOfDay;
  const pieces = timetable.pieces(0, end).filter((p) => p.value > 0);
  const most = Math.max(...pieces.map((p) => (p.value === Infinity ? 1 : p.value)), 1e-12);
  const on = pieces.reduce((s, p) => s + p.until - p.from, 0);
  const rate = calendar.gives === "rate";
  const firstDay = new Date(`${start.slice(0, 10)}T00:00:00Z`);
  const say = rate
    ? `${formatNumber(timetable.integral(0, end))} arrivals expected in these two weeks; most ${formatNumber(most * 3600)} an hour.`
    : `On for ${formatNumber(on / 3600)} h of these two weeks.`;
  return (
    <figure aria-label="The first two weeks of the run">
      <div className="grid grid-cols-[92px_1fr] gap-y-[2px] text-xs">
        {Array.from({ length: DAYS }, (_, day) => {
          const [from, until] = [day * DAY - startOfDay, (day + 1) * DAY - startOfDay];
          const date = new Date(firstDay.getTime() + day * 86_400_000);
          return (
            <div key={day} className="contents">
              <span className="text-soft tabular-nums">
                {date.toLocaleDateString("en-GB", {
                  weekday: "short",
                  day: "numeric",
                  month: "short",
                  timeZone: "UTC",
                })}
              </span>
              <div className="relative h-4 bg-water">
                {day === 0 && startOfDay > 0 && (
                  <div
                    className="absolute inset-y-0 left-0 bg-line"
                    style={{ width: `${(startOfDay / DAY) * 100}%` }}
                    data-tip="Before the start of the run"
                  />
                )}
                {pieces
                  .filter((p) => p.from < until && p.until > from)
                  .map((p) => {
                    const [a, b] = [Math.max(p.from, from), Math.min(p.until, until)];
                    const height = rate ? Math.max(0.15, p.value / most) : 1;
                    return (
                      <div
                        key={a}
                        className="absolute bottom-0 bg-action"
                        style={{
                          left: `${((a - from) / DAY) * 100}%`,
                          width: `${((b - a) / DAY) * 100}%`,
                          height: `${height * 100}%`,
                        }}
                      />
                    );
                  })}
              </div>
            </div>
          );
        })}
      </div>
      <figcaption className="pt-1.5">{say}</figcaption>
    </figure>
  );
}
