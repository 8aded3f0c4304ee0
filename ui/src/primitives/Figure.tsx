/** A read-only figure with its unit and a note. */
export function Figure({ label, value, unit, note }: { label: string; value: string; unit: string; note?: string }) {
  return (
    <p className="flex items-baseline justify-between gap-2 py-[2px]">
      <span>{label}</span>
      <span className="flex items-baseline gap-1">
        <span className="figure">{value}</span>
        <span className="w-7 text-[11px] text-ink3">{unit}</span>
        {note !== undefined && (
          <span className="w-[92px] truncate text-right text-[11px] text-ink2" title={note}>
            {note}
          </span>
        )}
      </span>
    </p>
  );
}
