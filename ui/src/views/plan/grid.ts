import { Projection, get as projectionOf } from "ol/proj";
import { register } from "ol/proj/proj4";
import proj4 from "proj4";
import { useEffect, useState } from "react";
import { api, call } from "../../api/client";

const LOCAL = new Projection({ code: "madidus-local", units: "m" });

/** The projection of a project's coordinates: a plain local grid, or a named system as the server describes it. */
export function useGrid(code: string | null | undefined): Projection | null {
  const [known, setKnown] = useState<{ code: string; projection: Projection } | null>(null);
  useEffect(() => {
    if (!code || known?.code === code) return;
    let current = true;
    call(api.GET("/api/grids/{code}", { params: { path: { code } } }))
      .then((grid) => {
        proj4.defs(code, grid.wkt);
        register(proj4);
        const projection = projectionOf(code);
        if (current) setKnown({ code, projection: projection ?? LOCAL });
      })
      .catch(() => current && setKnown({ code, projection: LOCAL }));
    return () => {
      current = false;
    };
  }, [code, known]);
  if (code === undefined) return null;
  if (code === null) return LOCAL;
  return known?.code === code ? known.projection : null;
}

export const isLocal = (projection: Projection) => projection === LOCAL;
