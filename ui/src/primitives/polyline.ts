/** A coordinate of a drawing: to a tenth of a pixel, so that long lines stay short texts. */
export const px = (at: number) => at.toFixed(1);

/** The points of a polyline through places of things. */
export const polyline = <T>(things: ArrayLike<T>, place: (thing: T, k: number) => readonly [number, number]) =>
  Array.from(things, (thing, k) => place(thing, k).map(px).join(",")).join(" ");
