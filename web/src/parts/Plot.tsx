/** Answers over time: how many a second, how long they took, which failed. */
import type { Schemas } from "../api/client";

type Course = Schemas["Course"];

const WIDTH = 1000;
const HEIGHT = 108;
const FOOT = 12;

export function Plot({ course, live }: { course: Course; live: boolean }) {
  const { points, step } = course;
  const rates = points.map((one) => one.answers / step);
  const times = points.map((one) => one.median_ms / 1000);
  const fastest = Math.max(...rates, 0.1);
  const slowest = Math.max(...times, 0.01);
  const failed = points.reduce((sum, one) => sum + one.failed, 0);
  const x = (index: number) => (points.length < 2 ? WIDTH / 2 : (index * WIDTH) / (points.length - 1));
  const line = (values: number[], most: number, top: number, height: number) =>
    values.map((value, index) => `${index ? "L" : "M"}${x(index).toFixed(1)} ${(top + height - (value / most) * height).toFixed(1)}`).join("");
  const slowed = points.findIndex((one) => one.passing !== null);
  const now = rates.at(-1) ?? 0;
  const seconds = (points.length - 1) * step;
  return (
    <div className="bg-leaf border-edge grid grid-cols-[150px_minmax(0,1fr)_84px] gap-x-4 border-y px-6 py-3">
      <dl className="flex flex-col justify-between text-[13px] leading-[18px]">
        <div>
          <dt>answers a second</dt>
          <dd className="text-soft">
            {live ? `${rate(now)}, ` : ""}at most {rate(fastest)}
          </dd>
        </div>
        <div>
          <dt className="text-ochre">median time to answer</dt>
          <dd className="text-soft">at most {slowest.toFixed(2)} s</dd>
        </div>
        <div>
          <dt className={failed ? "text-madder" : "text-soft"}>{failed ? `${failed.toLocaleString("en")} failed` : "none failed"}</dt>
        </div>
      </dl>
      <div className="relative">
        <svg
          role="img"
          aria-label={`Answers over ${time(seconds)}: at most ${rate(fastest)} a second, median time at most ${slowest.toFixed(2)} s, ${failed} failed.`}
          viewBox={`0 0 ${WIDTH} ${HEIGHT + FOOT}`}
          preserveAspectRatio="none"
          className="h-[120px] w-full overflow-visible"
        >
          <line x1={0} x2={WIDTH} y1={HEIGHT + FOOT} y2={HEIGHT + FOOT} className="stroke-edge" vectorEffect="non-scaling-stroke" />
          {slowed >= 0 ? (
            <line x1={x(slowed)} x2={x(slowed)} y1={0} y2={HEIGHT + FOOT} className="stroke-madder" strokeDasharray="2 3" vectorEffect="non-scaling-stroke" />
          ) : null}
          {points.map((one, index) =>
            one.failed ? (
              <line
                key={one.at}
                x1={x(index)}
                x2={x(index)}
                y1={HEIGHT + FOOT}
                y2={HEIGHT + FOOT - Math.max(3, FOOT * Math.min(1, one.failed / Math.max(1, one.answers)))}
                className="stroke-madder"
                strokeWidth={4}
                vectorEffect="non-scaling-stroke"
              />
            ) : null,
          )}
          <path d={line(rates, fastest, 4, 54)} fill="none" className="stroke-ink" strokeWidth={2} vectorEffect="non-scaling-stroke" />
          <path d={line(times, slowest, 66, 38)} fill="none" className="stroke-ochre" strokeWidth={2} strokeDasharray="6 4" vectorEffect="non-scaling-stroke" />
        </svg>
        {slowed >= 0 ? (
          <p className="text-madder bg-leaf absolute -top-2 px-1 text-[13px]" style={x(slowed) > WIDTH * 0.7 ? { right: `${100 - x(slowed) / 10}%` } : { left: `${x(slowed) / 10}%` }}>
            the host answered {points[slowed]?.passing}
          </p>
        ) : null}
      </div>
      <p className="text-soft self-end text-[13px]">{live ? "now" : time(seconds)}</p>
    </div>
  );
}

function rate(value: number): string {
  return value >= 10 ? Math.round(value).toLocaleString("en") : value.toFixed(1);
}

function time(seconds: number): string {
  return seconds < 90 ? `${Math.round(seconds)} s` : seconds < 5400 ? `${Math.round(seconds / 60)} min` : `${(seconds / 3600).toFixed(1)} h`;
}
