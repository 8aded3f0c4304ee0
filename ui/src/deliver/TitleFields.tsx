import { useRef } from "react";
import { keepPicture } from "../document/pictures";
import { useProject } from "../document/store";
import { TextLine } from "../primitives/TextLine";

const LINES = [
  ["number", "Number", ""],
  ["organisation", "Organisation", ""],
  ["checker", "Checked", ""],
  ["status", "Status", "for approval …"],
  ["date", "Date", "day of printing"],
] as const;

/** What cover and title blocks say. Author and client belong to the brief, the rest changes no fingerprint. */
export function TitleFields() {
  const { project, id, edit, say } = useProject();
  const file = useRef<HTMLInputElement>(null);
  if (!project) return null;
  const put = (path: string) => (value: string) => edit([{ op: "replace", path, value }]);
  const logo = async (chosen: File | undefined) => {
    if (!chosen || !id) return;
    try {
      await put("/title/logo")(await keepPicture(id, chosen));
    } catch (error) {
      say(error);
    }
  };
  return (
    <>
      <TextLine label="Author" value={project.brief.author} commit={put("/brief/author")} testId="author" />
      <TextLine label="For" value={project.brief.client} commit={put("/brief/client")} testId="client" />
      {LINES.map(([key, label, hint]) => (
        <TextLine
          key={key}
          label={label}
          value={project.title[key]}
          placeholder={hint}
          longest={key === "date" ? 40 : 80}
          commit={put(`/title/${key}`)}
          testId={`title-${key}`}
        />
      ))}
      <p className="flex items-baseline gap-2 py-[2px]">
        <span className="w-[76px] text-ink2">Logo</span>
        <button type="button" className="textlink" onClick={() => file.current?.click()}>
          {project.title.logo ? "another picture" : "choose a picture"}
        </button>
        {project.title.logo && (
          <button type="button" className="textlink" onClick={() => void put("/title/logo")("")}>
            none
          </button>
        )}
        <input
          ref={file}
          type="file"
          accept="image/png,image/jpeg"
          className="sr-only"
          tabIndex={-1}
          aria-label="logo"
          data-testid="logo"
          onChange={(event) => {
            void logo(event.target.files?.[0]);
            event.target.value = "";
          }}
        />
      </p>
    </>
  );
}
