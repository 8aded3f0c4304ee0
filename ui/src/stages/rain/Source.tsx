import { TextLine } from "../../primitives/TextLine";

/** Where figures come from, as the report tells it; typed over, or filled in by what they were read from. */
export function Source(props: { value: string; keep: (source: string) => void; testId?: string }) {
  const { value, keep, testId = "source" } = props;
  return (
    <TextLine
      label="Source"
      value={value}
      placeholder="not stated"
      longest={500}
      commit={(source) => keep(source)}
      testId={testId}
    />
  );
}
