import { useProject } from "../document/store";
import { clock, show, unitOf } from "../document/units";
import { useMoments } from "../document/useMoments";

/** What flooded at a node in the picked storm: how much, how deep, how long, and what came back. */
export function HeldBack({ id }: { id: string }) {
  const { point } = useProject();
  const flood = useMoments()?.floods.find((f) => f.element === id);
  if (!flood) return null;
  const minutes = flood.lasted / 60;
  const whole = flood.volume - flood.lost - flood.returned < 0.05;
  return (
    <p className="mt-2 border-t border-rule pt-1" data-testid="held-back">
      <b className="font-semibold text-madder">Floods</b>{" "}
      <button type="button" className="textlink" onClick={() => point({ moment: flood.begin })}>
        from {clock(flood.begin)}
      </button>{" "}
      for{" "}
      {minutes < 90 ? `${Math.max(minutes, 0.1).toFixed(minutes < 10 ? 1 : 0)} min` : `${(minutes / 60).toFixed(1)} h`}:{" "}
      {show(flood.volume, "volume")} {unitOf("volume")},{" "}
      <button type="button" className="textlink" onClick={() => point({ moment: flood.time })}>
        {show(flood.deepest, "length")} {unitOf("length")} deep at {clock(flood.time)}
      </button>
      ;{" "}
      {flood.lost > 0
        ? "it runs away and is lost"
        : whole
          ? "all of it is back in the network by the end"
          : `${show(flood.returned, "volume")} ${unitOf("volume")} of it is back by the end`}
    </p>
  );
}
