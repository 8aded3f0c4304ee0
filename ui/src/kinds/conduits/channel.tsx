import { type Channel, depthOf } from "../../document/types";
import { show, unitOf } from "../../document/units";
import { InfiltrationInputs } from "../../fields/InfiltrationInputs";
import { OPEN, SectionInputs } from "../../fields/SectionInputs";
import { useCommit } from "../../fields/useCommit";
import { Figure } from "../../primitives/Figure";
import { Rows } from "../../primitives/Rows";
import type { ConduitKind } from "../conduit";

function Section({ id, conduit: channel }: { id: string; conduit: Channel }) {
  const commit = useCommit("links", id);
  return <SectionInputs section={channel.section} shapes={OPEN} commit={commit("section")} />;
}

function Bed({ channel, commit }: { channel: Channel; commit: (bed: unknown) => void }) {
  if (channel.bed.length === 0)
    return (
      <button
        type="button"
        className="textlink text-[11px]"
        onClick={() =>
          commit([{ chainage: channel.length / 2, level: (channel.upstream_invert + channel.downstream_invert) / 2 }])
        }
      >
        give the bed levels between its ends
      </button>
    );
  return (
    <Rows
      title="Bed between the ends"
      columns={[
        { key: "chainage", label: "from upstream", quantity: "length" },
        { key: "level", label: "level", quantity: "level" },
      ]}
      rows={channel.bed}
      commit={commit}
    />
  );
}

function Form({ id, conduit: channel }: { id: string; conduit: Channel }) {
  const commit = useCommit("links", id);
  return (
    <>
      <Bed channel={channel} commit={commit("bed")} />
      <InfiltrationInputs value={channel.infiltration} commit={commit("infiltration")} />
      <Figure label="Bank above bed" value={show(depthOf(channel), "length")} unit={unitOf("length")} />
    </>
  );
}

export const KIND: ConduitKind<Channel> = {
  kind: "channel",
  order: 2,
  label: "Channel",
  // broken banks
  edge: { lineDash: [10, 4], lineCap: "butt" },
  body: { fill: "var(--color-hi)", dash: "7 3" },
  Section,
  Form,
};
