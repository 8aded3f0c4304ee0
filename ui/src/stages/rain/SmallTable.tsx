import type { ReactNode } from "react";

/** Figures by return period and duration, small and only to be read. */
export function SmallTable({
  label,
  corner,
  durations,
  periods,
  cell,
}: {
  label: string;
  corner: string;
  durations: number[];
  periods: number[];
  cell: (i: number, j: number) => ReactNode;
}) {
  return (
    <table className="figure text-right text-[11px] text-ink2" aria-label={label}>
      <thead>
        <tr>
          <th className="pr-3 text-left font-normal">{corner}: yr \ min</th>
          {durations.map((d) => (
            <th key={d} className="pl-3 font-normal">
              {d}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {periods.map((t, i) => (
          <tr key={t}>
            <th className="text-left font-normal">{t}</th>
            {durations.map((d, j) => (
              <td key={d} className="pl-3">
                {cell(i, j)}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
