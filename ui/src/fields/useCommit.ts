import { movesOthers } from "../document/standing";
import { useProject } from "../document/store";

/**
 * Sets a field of an element; a path with slashes reaches into its parts. Answers why that was refused, if it was. What
 * stands on the invert of a node goes with it.
 */
export function useCommit(collection: "nodes" | "links", id: string) {
  const { edit, apply, optionPath } = useProject();
  return (field: string) => async (value: unknown) => {
    if (movesOthers(collection, field)) {
      await apply([{ edit: "set", element: id, field, value }]);
      return null;
    }
    return edit([{ op: "add", path: `${optionPath}/${collection}/${id}${field && `/${field}`}`, value }]);
  };
}
