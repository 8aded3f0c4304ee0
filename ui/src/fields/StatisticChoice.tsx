/** By what of their peaks durations are compared. */
export type Statistic = "mean" | "median" | "highest";

export function StatisticChoice({
  by,
  choose,
  testId,
}: {
  by: Statistic;
  choose: (by: Statistic) => void;
  testId: string;
}) {
  return (
    <select
      className="border-b border-ink3 bg-transparent"
      aria-label="statistic"
      value={by}
      onChange={(event) => choose(event.target.value as Statistic)}
      data-testid={testId}
    >
      <option value="mean">highest mean</option>
      <option value="median">highest median</option>
      <option value="highest">highest peak</option>
    </select>
  );
}
