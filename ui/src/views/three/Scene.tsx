import { Canvas } from "@react-three/fiber";
import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { api, call } from "../../api/client";
import { useProject } from "../../document/store";
import { type Backdrop, type Network, topOf } from "../../document/types";
import { clock } from "../../document/units";
import { save } from "../graphs/out";
import { Camera, FIRST, type Handle, turned, type View } from "./Camera";
import { Ground } from "./Ground";
import { Ladder, Names, type Project } from "./Names";
import { type Look, Panel, USUAL } from "./Panel";
import { sceneOf } from "./place";
import { portrait } from "./portrait";
import { Under, waterAt } from "./Underground";

const NOTHING: Backdrop[] = [];

/** The network in 3D at the moment of the clock. */
export default function Scene({ network }: { network: Network }) {
  const { id, option, revision, project, series, cursor, picked, point, moment, wanted, say } = useProject();
  const [look, setLook] = useState<Look>(USUAL);
  const [view, setView] = useState<View>(FIRST);
  const [project3, setProject3] = useState<{ of: Project } | null>(null);
  const eye = useRef<Handle>(null);
  const frame = useRef<HTMLDivElement>(null);
  const draw = useCallback(async () => {
    const { project, option, fingerprint: inputs, answer, cursor, seriesOf, moment } = useProject.getState();
    if (!frame.current || !eye.current || !project) throw new Error("nothing is drawn in 3D");
    if (seriesOf && (seriesOf.inputs !== inputs || seriesOf.storm !== cursor.storm))
      throw new Error("the water shown is of earlier inputs or of another storm; wait until it is up to date");
    const storm = seriesOf ? (answer?.storms.find((one) => one.key === seriesOf.storm)?.label ?? "") : "";
    const when = storm ? `${storm}, ${clock(moment)} after it began` : "without water";
    const of = `${project.name}, option ${project.options[option]?.name ?? ""}`;
    const says = `${of}: ${when} · inputs ${inputs.slice(0, 12).toUpperCase()}`;
    return { picture: await portrait(frame.current, eye.current.shot, says), inputs, storm };
  }, []);
  useEffect(() => {
    useProject.setState({ portrait: draw });
    return () => useProject.setState({ portrait: null });
  }, [draw]);
  const scene = useMemo(() => sceneOf(network, look.upward), [network, look.upward]);
  const upward = wanted.eye?.upward;
  useEffect(() => {
    if (upward !== undefined) setLook((now) => ({ ...now, upward }));
  }, [upward]);
  const { data: surface } = useQuery({
    queryKey: ["ground", id, option, revision],
    enabled: !!id,
    placeholderData: (old) => old,
    queryFn: () =>
      call(
        api.GET("/api/projects/{project_id}/options/{option}/ground", {
          params: { path: { project_id: id ?? "", option } },
        }),
      ),
  });
  const water = useMemo(() => waterAt(series, moment), [series, moment]);
  const pick = useCallback((element: string) => point({ element }), [point]);
  const stand = (element: string | null) => {
    const link = network.links[element ?? ""];
    const node = network.nodes[element ?? ""] ?? network.nodes[link?.downstream ?? ""];
    if (node) eye.current?.stand(scene.at(node.x, node.y, topOf(node)));
  };
  const take = async () => {
    try {
      save((await draw()).picture, `${project?.name ?? "network"} in 3D.png`);
    } catch (error) {
      say(error);
    }
  };
  const keys = (event: KeyboardEvent) => {
    const turn = turned(view, event.key);
    if (turn) eye.current?.turn(turn);
    else if (event.key === "+" || event.key === "-") eye.current?.nearer(event.key === "+" ? 0.8 : 1.25);
    else if (event.key === "Home") eye.current?.home();
    else if (event.key === "Enter") stand(cursor.element);
    else if (event.key === "Escape") point({ element: null });
    else return;
    event.preventDefault();
  };
  return (
    <div
      ref={frame}
      className="relative min-h-0 flex-1 outline-offset-[-2px]"
      role="application"
      aria-label="Network in 3D"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the sight is turned by keyboard
      tabIndex={0}
      onKeyDown={keys}
      onDoubleClick={() => stand(useProject.getState().cursor.element)}
      data-testid="three"
    >
      <Canvas
        frameloop="demand"
        camera={{ fov: 34 }}
        gl={{ antialias: true, preserveDrawingBuffer: true }}
        aria-hidden="true"
      >
        <ambientLight intensity={2.2} />
        <directionalLight position={[-1, 1, 2]} intensity={1.5} />
        <Under
          network={network}
          scene={scene}
          water={water}
          picked={picked}
          pick={pick}
          curtain={look.curtain}
          floods={look.floods}
        />
        {surface && surface.levels.length > 0 && (
          <Ground surface={surface} scene={scene} look={look.ground} backdrop={project?.backdrop ?? NOTHING} />
        )}
        <Camera scene={scene} seen={setView} names={(of) => setProject3({ of })} handle={eye} />
      </Canvas>
      {project3 && <Names network={network} scene={scene} project={project3.of} water={water} all={look.names} />}
      {project3 && <Ladder scene={scene} project={project3.of} />}
      <p className="absolute bottom-2 left-3 text-[11px] text-ink3">
        drag to turn, wheel to come nearer, double click to stand at what is picked, Home for the whole site
      </p>
      <Panel look={look} change={setLook} view={view} turn={(to) => eye.current?.turn(to)} take={() => void take()} />
    </div>
  );
}
