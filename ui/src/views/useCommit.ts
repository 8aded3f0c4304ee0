import { useProject } from "../document/store";

/** Sets a field of an element; a path with slashes reaches into its parts. Answers why that was refused, if it was. */
export function useCommit(collection: "nodes" | "links", id: string) {
  const { edit, optionPath } = useProject();
  return (field: string) => (value: unknown) =>
    edit([{ op: "add", path: `${optionPath}/${collection}/${id}${field && `/${field}`}`, value }]);
}
