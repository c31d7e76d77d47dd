// A preview of the export table for the current query.
import type { Problem, Schemas } from "../../state/client";
import { counted } from "../../ui/plural";

type Props = { look: Schemas["TableLookOut"] | null; trouble: Problem | null };

export function TablePreview({ look, trouble }: Props) {
  if (trouble)
    return (
      <p className="needs" role="alert">
        {trouble.detail} — {trouble.mend}
      </p>
    );
  if (!look) return <div className="table-look table-look-waits" aria-hidden="true" />;
  const rest = look.total - look.rows.length;
  return (
    <section className="table-look" aria-label="As it comes out">
      <h2>
        As it comes out <span className="soft">{counted(look.total, "card")}</span>
      </h2>
      {look.total === 0 ? (
        <p className="empty">No cards match.</p>
      ) : (
        <div className="table-look-scroll" tabIndex={0} role="region" aria-label="The first rows">
          <table>
            <thead>
              <tr>
                {look.head.map((heading) => (
                  <th key={heading} scope="col">
                    {heading}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {look.rows.map((row) => (
                <tr key={row[0]}>
                  {row.map((cell, column) => (
                    <td key={look.head[column]} title={cell.length > 40 ? cell.slice(0, 600) : undefined}>
                      {cell.slice(0, 120).replaceAll("\n", " ⏎ ")}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
          {rest > 0 && <p className="soft">and {rest} more</p>}
        </div>
      )}
    </section>
  );
}
