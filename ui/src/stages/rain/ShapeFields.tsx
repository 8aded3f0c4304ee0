import { useProject } from "../../document/store";
import type { Season } from "../../document/types";
import { type Kind, Variant } from "../../fields/Variant";
import { Rows } from "../../primitives/Rows";

const PEAK: Kind["numbers"] = [["peak", "Peak after", "share"]];
export const SHAPES: Record<string, Kind> = {
  bell: {
    label: "bell",
    value: { a: 0.1, b: 0.815 },
    numbers: [
      ["a", "Bell, a", "third"],
      ["b", "Bell, b", "third"],
    ],
  },
  block: { label: "uniform", value: {}, numbers: [] },
  triangle: { label: "triangle", value: { peak: 0.5 }, numbers: PEAK },
  alternating: { label: "alternating block", value: { peak: 0.5 }, numbers: PEAK },
  chicago: { label: "Chicago", value: { peak: 0.4 }, numbers: PEAK },
  mass: { label: "24-hour mass curve", value: { type: "II" }, numbers: [] },
  curve: {
    label: "a curve of one’s own",
    value: {
      points: [
        { time: 0, depth: 0 },
        { time: 0.5, depth: 0.7 },
        { time: 1, depth: 1 },
      ],
    },
    numbers: [],
  },
};

/** How the depth of a season's storms is spread over their duration. */
export function ShapeFields({ season, path }: { season: Season; path: string }) {
  const { edit } = useProject();
  const set = (value: unknown) => void edit([{ op: "replace", path: `${path}/shape`, value }]);
  const { shape } = season;
  return (
    <>
      <Variant
        label={`Shape, ${season.name}`}
        value={shape}
        kinds={SHAPES}
        commit={set}
        testId={`shape-${season.name.replace(" ", "-")}`}
      />
      {shape.kind === "mass" && (
        <label className="flex items-center justify-between py-[3px]">
          Type
          <select
            className="field !w-[124px] !font-sans"
            value={shape.type}
            onChange={(event) => set({ ...shape, type: event.target.value })}
          >
            {["I", "IA", "II", "III"].map((type) => (
              <option key={type}>{type}</option>
            ))}
          </select>
        </label>
      )}
      {shape.kind === "curve" && (
        <Rows
          title={`Curve, ${season.name}`}
          columns={[
            { key: "time", label: "time", quantity: "share" },
            { key: "depth", label: "depth", quantity: "share" },
          ]}
          rows={shape.points}
          commit={(points) => set({ ...shape, points })}
        />
      )}
    </>
  );
}
