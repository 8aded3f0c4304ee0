/** One of a few named values. */
export function Choice({
  label,
  value,
  options,
  commit,
  testId,
}: {
  label: string;
  value: string;
  options: Record<string, string>;
  commit: (value: string) => void;
  testId?: string;
}) {
  return (
    <label className="flex items-center justify-between gap-2 py-[3px]">
      <span>{label}</span>
      <select
        className="field !w-[124px] !font-sans"
        value={value}
        data-testid={testId}
        onChange={(event) => commit(event.target.value)}
      >
        {Object.entries(options).map(([key, text]) => (
          <option key={key} value={key}>
            {text}
          </option>
        ))}
      </select>
    </label>
  );
}

/** Yes or no. */
export function Tick({ label, value, commit }: { label: string; value: boolean; commit: (value: boolean) => void }) {
  return (
    <label className="flex items-center justify-between gap-2 py-[3px]">
      <span>{label}</span>
      <input type="checkbox" checked={value} onChange={(event) => commit(event.target.checked)} />
    </label>
  );
}
