import { Fragment, useState } from "react";
import { Link } from "react-router";
import type { Problem } from "../../state/client";
import { useGame } from "../../state/store";
import { points } from "../../ui/Verdict";
import { between, INFORMED, plain, signed } from "../numberText";
import type { LensData } from "../types";
import { ChartExport } from "./ChartExport";
import { Interval, IntervalScale } from "./Interval";
import { WorthSweep } from "./WorthSweep";

type Row = LensData["rows"][number];
const STAT = "stat:";

/** The worth of one unit of each price row: declared, implied by costs, measured by games. */
export function LensRows({ lenses, trouble }: { lenses: LensData | null; trouble: Problem | null }) {
  const game = useGame((state) => state.game);
  const [open, setOpen] = useState<string | null>(null);
  if (trouble)
    return (
      <p className="lens-told" role="alert">
        <b className="needs">{trouble.detail}</b> — {trouble.mend}.
      </p>
    );
  if (!lenses || !game) return <p className="lens-told soft">Working out what the costs imply…</p>;
  const rows = [...lenses.rows].sort((one, other) => surprise(other) - surprise(one));
  const most = Math.max(2, ...rows.flatMap((row) => [row.implied?.[2] ?? 0, row.measured?.[2] ?? 0]));
  if (!rows.length)
    return <p className="lens-told soft">No worths are declared yet: Rules, Worths says what each effect is worth.</p>;
  return (
    <>
      <div className="lens-table" tabIndex={0} role="region" aria-label="Lenses, row by row">
        <table>
          <thead>
            <tr>
              <th scope="col">Worth of one</th>
              <th scope="col" className="num">
                Cards
              </th>
              <th scope="col" className="num">
                Declared
              </th>
              <th scope="col">
                Implied by costs, points
                <IntervalScale most={most} wide={110} />
              </th>
              <th scope="col">
                Measured by games, points
                <IntervalScale most={most} wide={110} />
              </th>
              <th scope="col">What it says</th>
              <th scope="col">By games</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <Fragment key={row.row}>
                <tr className={surprise(row) > 0 ? "lens-named" : ""}>
                  <th scope="row">
                    <Link
                      to={`/${game.id}/rules?at=game:prices${row.row.startsWith(STAT) ? "" : `&row=${encodeURIComponent(row.row)}`}`}
                    >
                      {row.name}
                    </Link>
                  </th>
                  <td className="num">{row.cards || ""}</td>
                  <td className="num">
                    {row.declared == null ? (
                      <span className="verdict verdict-open">undecided</span>
                    ) : (
                      points(row.declared, false)
                    )}
                  </td>
                  <td>
                    <Estimate of={row.implied} share={row.implied_share} most={most} />
                  </td>
                  <td>
                    <Estimate of={row.measured} share={row.measured_share} most={most} />
                  </td>
                  <td className="soft">{saying(row)}</td>
                  <td>
                    {row.cards > 0 && game.roles.cost && (
                      <button
                        type="button"
                        className="small-button"
                        aria-expanded={open === row.row}
                        aria-label={`Sweep ${row.name}`}
                        onClick={() => setOpen(open === row.row ? null : row.row)}
                      >
                        Sweep
                      </button>
                    )}
                  </td>
                </tr>
                {open === row.row && (
                  <tr className="lens-opened">
                    <td colSpan={7}>
                      <WorthSweep worth={row.row} name={row.name} declared={row.declared} />
                    </td>
                  </tr>
                )}
              </Fragment>
            ))}
          </tbody>
        </table>
      </div>
      <div className="lens-foot">
        <span className="soft">
          A share says how much of what is known comes from the cards or the games; under 30 % it is not informed.
        </span>
        <ChartExport
          name={`${game.name} worths`}
          rows={() => [
            ["row", "cards", "declared", "implied", "low", "high", "share", "measured", "low", "high", "share"],
            ...rows.map((row) => [
              row.name,
              row.cards,
              row.declared,
              ...(row.implied ?? [null, null, null]),
              row.implied_share,
              ...(row.measured ?? [null, null, null]),
              row.measured_share,
            ]),
          ]}
        />
      </div>
    </>
  );
}

function Estimate({ of, share, most }: { of: number[] | null; share: number; most: number }) {
  const [value, low, high] = of ?? [];
  if (value === undefined || low === undefined || high === undefined) return <span className="soft">—</span>;
  if (share < INFORMED) return <span className="soft">not informed ({Math.round(100 * share)} %)</span>;
  return (
    <span className="lens-lift">
      <Interval value={value} low={low} high={high} most={most} wide={110} />
      <b className="num">{plain(value)}</b>
      <span className="num soft">
        {plain(low)} to {plain(high)} · {Math.round(100 * share)} %
      </span>
    </span>
  );
}

/** The distance of the declared worth from a lens's interval; 0 inside it. */
function outside(row: Row, of: number[] | null, share: number): number {
  const [, low, high] = of ?? [];
  if (row.declared == null || low === undefined || high === undefined || share < INFORMED) return 0;
  return row.declared < low ? low - row.declared : row.declared > high ? high - row.declared : 0;
}

const surprise = (row: Row): number =>
  Math.max(
    Math.abs(outside(row, row.implied, row.implied_share)),
    Math.abs(outside(row, row.measured, row.measured_share)),
  );

function saying(row: Row): string {
  if (row.flips) return "by the costs it is no drawback but a benefit, or the other way round";
  const told = [];
  const cost = outside(row, row.implied, row.implied_share);
  const play = outside(row, row.measured, row.measured_share);
  if (cost) told.push(`costs say ${cost > 0 ? "more" : "less"} than declared`);
  if (play) told.push(`games say ${play > 0 ? "more" : "less"} than declared`);
  if (cost && play && cost > 0 === play > 0) return `both say ${cost > 0 ? "more" : "less"} than declared`;
  if (row.declared == null && row.measured && row.measured_share >= INFORMED)
    return `open: games say about ${signed(row.measured[0] ?? 0)} (${between(row.measured[1] ?? 0, row.measured[2] ?? 0)})`;
  return told.join("; ");
}
