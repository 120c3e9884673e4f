/** Eight days of the light, one row each; a day on which the clock changes is as long as it is. */
import { say, texts } from "../../texts";
import { dayOfWeek } from "../when";
import type { Programs } from "./queries";

const words = texts.setup.programs;
const WIDTH = 760;
const LEFT = 124;
const ROW = 30;
const LONGEST_H = 25;

function hoursAfter(begin: string, moment: string): number {
  return (Date.parse(moment) - Date.parse(begin)) / 3_600_000;
}

/** The time on the wall there, as the moment says it. */
function wall(moment: string): string {
  return moment.slice(11, 16);
}

export function WeekStrip({ programs }: { programs: Programs }) {
  const x = (hours: number) => LEFT + ((WIDTH - LEFT - 8) * hours) / LONGEST_H;
  const rows = programs.days.map((day) => ({
    ...day,
    bars: programs.on
      .map((lit) => ({
        from: Math.max(0, hoursAfter(day.begin, lit.begin)),
        to: Math.min(day.hours, hoursAfter(day.begin, lit.end)),
        lit,
      }))
      .filter((bar) => bar.to > bar.from),
  }));
  return (
    <figure className="week-strip">
      <svg viewBox={`0 0 ${WIDTH} ${rows.length * ROW + 26}`} role="img" aria-label={words.strip}>
        {rows.map((row, k) => (
          <g key={row.day} transform={`translate(0 ${k * ROW})`}>
            <text x={0} y={20}>
              {dayOfWeek(row.day)}
            </text>
            <rect className="day" x={x(0)} y={5} width={x(row.hours) - x(0)} height={20} />
            {row.bars.map((bar) => (
              <rect
                key={bar.lit.begin}
                className="lit"
                x={x(bar.from)}
                y={5}
                width={Math.max(1, x(bar.to) - x(bar.from))}
                height={20}
              >
                <title>{`${wall(bar.lit.begin)}–${wall(bar.lit.end)}`}</title>
              </rect>
            ))}
          </g>
        ))}
        {[0, 3, 6, 9, 12, 15, 18, 21, 24].map((hour) => (
          <text key={hour} className="join-tick" x={x(hour)} y={rows.length * ROW + 20}>
            {hour}
          </text>
        ))}
      </svg>
      <figcaption>
        <ul className="plain-list strip-words">
          {rows.map((row) => (
            <li key={row.day}>
              {say(words.lit, {
                day: dayOfWeek(row.day),
                times:
                  row.bars.length === 0
                    ? words.never
                    : row.bars.map((bar) => `${wall(bar.lit.begin)}–${wall(bar.lit.end)}`).join(", "),
              })}
              {row.hours !== 24 && <b> · {say(words.clockDay, { hours: row.hours })}</b>}
            </li>
          ))}
        </ul>
      </figcaption>
    </figure>
  );
}
