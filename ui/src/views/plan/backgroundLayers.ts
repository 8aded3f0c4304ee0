import { type Extent, isEmpty } from "ol/extent";
import GeoJSON from "ol/format/GeoJSON";
import WMTSCapabilities from "ol/format/WMTSCapabilities";
import type BaseLayer from "ol/layer/Base";
import ImageLayer from "ol/layer/Image";
import TileLayer from "ol/layer/Tile";
import VectorLayer from "ol/layer/Vector";
import type { Projection } from "ol/proj";
import ImageStatic from "ol/source/ImageStatic";
import TileWMS from "ol/source/TileWMS";
import VectorSource from "ol/source/Vector";
import WMTS, { optionsFromCapabilities } from "ol/source/WMTS";
import XYZ from "ol/source/XYZ";
import { Fill, Stroke, Style, Text } from "ol/style";
import { api, call } from "../../api/client";
import type { Layer, TerrainLayer } from "../../document/types";
import { show } from "../../document/units";
import { isLocal } from "./grid";

const words = (text: string, size = 10) =>
  new Text({
    text,
    font: `${size}px 'Archivo Variable'`,
    fill: new Fill({ color: "#65665f" }),
    stroke: new Stroke({ color: "#f6f2e7", width: 3 }),
    overflow: false,
  });
const HAIR = new Stroke({ color: "#8d8877", width: 0.8 });
const CONTOUR = new Style({ stroke: new Stroke({ color: "#c4b795", width: 0.7 }) });

/** Features of a GeoJSON that the server has written in the project's grid, not in degrees. */
const gridded = (url: string, projection: Projection) =>
  new VectorSource({ url, format: new GeoJSON({ dataProjection: projection, featureProjection: projection }) });

function linesLayer(url: string, opacity: number, projection: Projection, lies: (extent: Extent) => void): BaseLayer {
  const source = gridded(url, projection);
  source.once("featuresloadend", () => {
    const extent = source.getExtent();
    if (extent && !isEmpty(extent)) lies(extent);
  });
  return new VectorLayer({
    source,
    opacity,
    style: (feature) =>
      new Style({ stroke: HAIR, ...(feature.get("text") ? { text: words(String(feature.get("text"))) } : {}) }),
  });
}

function mapLayer(layer: Extract<Layer, { kind: "map" }>, projection: Projection, say: (why: string) => void) {
  const tiles = new TileLayer({ opacity: layer.opacity });
  if (layer.service === "xyz") tiles.setSource(new XYZ({ url: layer.address, crossOrigin: "anonymous" }));
  else if (layer.service === "wms")
    // 1.1.1 gives coordinates east before north in every system
    tiles.setSource(
      new TileWMS({
        url: layer.address,
        projection,
        params: { LAYERS: layer.layer, VERSION: "1.1.1" },
        crossOrigin: "anonymous",
      }),
    );
  else
    fetch(layer.address)
      .then((response) => response.text())
      .then((text) => {
        const options = optionsFromCapabilities(new WMTSCapabilities().read(text), { layer: layer.layer });
        if (!options) throw new Error(`it offers no layer “${layer.layer}”`);
        tiles.setSource(new WMTS({ ...options, crossOrigin: "anonymous" }));
      })
      .catch((error) => say(`map ${layer.name}: ${error instanceof Error ? error.message : error}; check its address`));
  return tiles;
}

/** Layers under the network, the lowest first. Maps need a named coordinate system. lies : told where each lies, once
 * that is known; a map lies everywhere. */
export function layersUnder(
  id: string,
  layers: Layer[],
  terrain: TerrainLayer | null,
  projection: Projection,
  say: (why: string) => void,
  lies: (extent: Extent) => void,
): BaseLayer[] {
  const base = `/api/projects/${id}`;
  const found: BaseLayer[] = [];
  for (const layer of layers) {
    if (!layer.shown) continue;
    if (layer.kind === "lines") found.push(linesLayer(`${base}/files/${layer.file}`, layer.opacity, projection, lies));
    else if (layer.kind === "picture") {
      lies(layer.extent);
      found.push(
        new ImageLayer({
          opacity: layer.opacity,
          source: new ImageStatic({
            url: `${base}/files/${layer.file}`,
            imageExtent: layer.extent,
            projection,
            interpolate: true,
          }),
        }),
      );
    } else if (!isLocal(projection)) found.push(mapLayer(layer, projection, say));
  }
  if (terrain) {
    const about = call(api.GET("/api/projects/{project_id}/terrain", { params: { path: { project_id: id } } })).then(
      ({ extent }) => {
        lies(extent);
        return extent;
      },
    );
    if (terrain.shade) found.push(shadeLayer(id, terrain, about, projection));
    else about.catch(() => {}); // the page of backgrounds says that the file is not kept here
  }
  if (terrain?.contours) {
    // the address changes with what is drawn, so that nothing old is shown
    const url = `${base}/terrain/contours?of=${terrain.file.slice(0, 12)}-${terrain.interval ?? ""}`;
    found.push(
      new VectorLayer({
        source: gridded(url, projection),
        style: (feature) =>
          feature.get("index")
            ? new Style({
                stroke: new Stroke({ color: "#a89970", width: 1.1 }),
                text: new Text({
                  text: show(Number(feature.get("level")), "level", 2).replace(/\.?0+$/, ""),
                  placement: "line",
                  font: "10px 'IBM Plex Mono'",
                  fill: new Fill({ color: "#7d7357" }),
                  stroke: new Stroke({ color: "#f6f2e7", width: 3 }),
                }),
              })
            : CONTOUR,
      }),
    );
  }
  return found;
}

function shadeLayer(id: string, terrain: TerrainLayer, about: Promise<number[]>, projection: Projection): BaseLayer {
  const layer = new ImageLayer();
  about
    .then((extent) =>
      layer.setSource(
        new ImageStatic({
          url: `/api/projects/${id}/terrain/shade.png?of=${terrain.file.slice(0, 12)}`,
          imageExtent: extent,
          projection,
          interpolate: true,
        }),
      ),
    )
    .catch(() => layer.setSource(null)); // the page of backgrounds says that the file is not kept here
  return layer;
}
