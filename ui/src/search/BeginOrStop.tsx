/** Begins a search, or stops the one under way. */
export function BeginOrStop({
  running,
  label,
  begin,
  stop,
  testId,
  disabled = false,
}: {
  running: boolean;
  label: string;
  begin: () => unknown;
  stop: () => unknown;
  testId: string;
  disabled?: boolean;
}) {
  if (running)
    return (
      <button type="button" className="textlink" onClick={() => void stop()}>
        stop
      </button>
    );
  return (
    <button
      type="button"
      className="textlink disabled:text-ink3"
      disabled={disabled}
      onClick={() => void begin()}
      data-testid={testId}
    >
      {label}
    </button>
  );
}
