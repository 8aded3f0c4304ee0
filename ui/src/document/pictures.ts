import { useProject } from "./store";

/** Keep a picture with a project; its SHA-256, or null where it was refused, which is then said. */
export async function keepPicture(project: string, picture: Blob): Promise<string | null> {
  try {
    const kept = await fetch(`/api/projects/${project}/pictures`, { method: "POST", body: picture });
    const body = await kept.json();
    if (kept.ok) return body as string;
    useProject.setState({ notice: `${body.title}; ${body.detail ?? ""}` });
  } catch (error) {
    useProject.setState({ notice: `the picture was not kept: ${error instanceof Error ? error.message : error}` });
  }
  return null;
}
