import { sent } from "../api/client";

/** Keep a picture with a project; its SHA-256. */
export const keepPicture = (project: string, picture: Blob) =>
  sent<string>(`/api/projects/${project}/pictures`, picture);
