import { api, call } from "../../api/client";
import type { components } from "../../api/schema";
import { type Change, useProject } from "../../document/store";

type How = Omit<components["schemas"]["ShapeIn"], "path" | "gradient" | "cover" | "levels"> &
  Partial<Pick<components["schemas"]["ShapeIn"], "gradient" | "cover" | "levels">>;

/** Give the conduits of a run their levels, with the bottoms of the manholes between them, as one edit. */
export async function setLevels(path: string[], how: How): Promise<void> {
  const { id, option, optionPath, edit } = useProject.getState();
  if (!id) return;
  try {
    const patch = await call(
      api.POST("/api/projects/{project_id}/options/{option}/shape", {
        params: { path: { project_id: id, option } },
        body: { gradient: 0.01, cover: 1, levels: [], path, ...how },
      }),
    );
    const changes = (patch as unknown as Change[]).map((c) => ({ ...c, path: `${optionPath}${c.path}` }));
    if (changes.length) await edit(changes);
    else useProject.setState({ notice: "nothing to change: the levels are so already" });
  } catch (error) {
    useProject.setState({ notice: error instanceof Error ? error.message : String(error) });
  }
}
