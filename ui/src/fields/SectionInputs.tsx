import { heightOf, type Section } from "../document/types";
import { Choice } from "../primitives/Choice";
import { NumberField } from "../primitives/NumberField";
import { Rows } from "../primitives/Rows";

const SHAPES: Record<string, string> = {
  circular: "circular",
  rectangular: "rectangular",
  egg: "egg",
  arch: "arch",
  trapezoidal: "trapezoidal",
  irregular: "surveyed",
  widths: "depth and width",
};
export const CLOSED = ["circular", "rectangular", "egg", "arch", "widths"];
export const OPEN = ["trapezoidal", "rectangular", "irregular", "widths"];
export const OPENING = ["circular", "rectangular"];

/** A section of another shape, about as high and as wide as the old one. */
function changed(old: Section, shape: string): Section {
  const h = Math.max(heightOf(old), 0.05);
  const w = "width" in old ? old.width : "base_width" in old ? old.base_width + h : h;
  switch (shape) {
    case "circular":
      return { shape, diameter: h };
    case "rectangular":
      return { shape, width: w, height: h };
    case "egg":
      return { shape, height: h };
    case "arch":
      return { shape, width: w, height: h, rise: Math.min(w / 2, h) };
    case "trapezoidal":
      return { shape, base_width: w / 2, left_slope: 2, right_slope: 2, height: h };
    case "irregular":
      return {
        shape,
        stations: [
          { offset: 0, elevation: h },
          { offset: w, elevation: 0 },
          { offset: 2 * w, elevation: 0 },
          { offset: 3 * w, elevation: h },
        ],
      };
    default:
      return {
        shape: "widths",
        rows: [
          { depth: 0, width: w / 2 },
          { depth: h, width: w },
        ],
      };
  }
}

/** The shape and the dimensions of a section. */
export function SectionInputs({
  section,
  shapes,
  commit,
}: {
  section: Section;
  shapes: string[];
  commit: (section: Section) => void;
}) {
  const set = (field: string) => (value: number) => commit({ ...section, [field]: value } as Section);
  const size = (label: string, field: string, value: number) => (
    <NumberField label={label} value={value} quantity="diameter" commit={set(field)} testId={field} />
  );
  return (
    <>
      <Choice
        label="Shape"
        value={section.shape}
        options={Object.fromEntries(shapes.map((shape) => [shape, SHAPES[shape] ?? shape]))}
        commit={(shape) => commit(changed(section, shape))}
        testId="shape"
      />
      {section.shape === "circular" && size("Diameter", "diameter", section.diameter)}
      {(section.shape === "rectangular" || section.shape === "arch") && size("Width", "width", section.width)}
      {section.shape === "trapezoidal" && size("Base width", "base_width", section.base_width)}
      {section.shape !== "circular" &&
        section.shape !== "irregular" &&
        section.shape !== "widths" &&
        size("Height", "height", section.height)}
      {section.shape === "arch" && size("Rise of roof", "rise", section.rise)}
      {section.shape === "trapezoidal" && (
        <>
          <NumberField label="Left slope" value={section.left_slope} quantity="slope" commit={set("left_slope")} />
          <NumberField label="Right slope" value={section.right_slope} quantity="slope" commit={set("right_slope")} />
        </>
      )}
      {section.shape === "irregular" && (
        <Rows
          title="Survey"
          columns={[
            { key: "offset", label: "offset", quantity: "length" },
            { key: "elevation", label: "level", quantity: "level" },
          ]}
          rows={section.stations}
          commit={(stations) => commit({ ...section, stations })}
        />
      )}
      {section.shape === "widths" && (
        <Rows
          title="Widths"
          columns={[
            { key: "depth", label: "depth", quantity: "diameter" },
            { key: "width", label: "width", quantity: "diameter" },
          ]}
          rows={section.rows}
          commit={(rows) => commit({ ...section, rows })}
        />
      )}
    </>
  );
}
