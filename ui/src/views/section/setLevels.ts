import { useProject } from "../../document/store";
import type { Edit } from "../../document/types";

type SetLevels = Extract<Edit, { edit: "set levels" }>;
type How = Pick<SetLevels, "how"> & Partial<Omit<SetLevels, "edit" | "links" | "how">>;

/** Give the conduits of a run their levels, with the bottoms of the manholes between them, as one edit. */
export async function setLevels(links: string[], how: How): Promise<void> {
  const { revision, notice, apply } = useProject.getState();
  await apply([{ edit: "set levels", links, gradient: 0.01, cover: 1, ...how }]);
  const after = useProject.getState();
  if (after.revision === revision && after.notice === notice)
    useProject.setState({ notice: "nothing to change: the levels are so already" });
}
