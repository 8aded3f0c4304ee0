import { useProject } from "../../document/store";
import { TextLine } from "../../primitives/TextLine";

/** Where figures come from, as the report tells it; typed over, or filled in by what they were read from. */
export function Source({ value, path, testId = "source" }: { value: string; path: string; testId?: string }) {
  const { edit } = useProject();
  return (
    <TextLine
      label="Source"
      value={value}
      placeholder="not stated"
      longest={500}
      commit={(source) => edit([{ op: "add", path, value: source }])}
      testId={testId}
    />
  );
}
