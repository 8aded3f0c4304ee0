import { useProject } from "../document/store";
import { NumberField } from "../primitives/NumberField";

/** A level, read and typed as a depth below `top` while depths are shown. */
export function LevelField({
  label,
  value,
  top,
  commit,
  testId,
}: {
  label: string;
  value: number;
  /** The ground above, m; none keeps the level. */
  top: number | null;
  commit: (level: number) => void;
  testId?: string;
}) {
  const depths = useProject((s) => s.depths);
  if (!depths || top === null)
    return <NumberField label={label} value={value} quantity="level" commit={commit} testId={testId} />;
  return (
    <NumberField
      label={`${label}, below ground`}
      value={Number((top - value).toFixed(6))}
      quantity="level"
      commit={(depth) => commit(Number((top - depth).toFixed(6)))}
      testId={testId}
    />
  );
}
