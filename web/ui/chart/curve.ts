/** A line to draw through points of two coordinates each. */
export interface Curve {
  /** x and y of each point, one point after the other. */
  readonly points: Float64Array;
  /** Multiplies each y; 1 where absent. */
  readonly scale?: number;
  readonly colour: string;
  readonly isDashed?: boolean;
}

/** Where the values of a chart lie on screen, px. */
export interface Plot {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly xRange: readonly [number, number];
  readonly yRange: readonly [number, number];
}

export const dash: readonly number[] = [5, 3];
export const curveWidth = 1.6;

/** A curve of points given one by one. */
export function pointsOf(points: readonly { readonly x: number; readonly y: number }[]): Float64Array {
  const flat = new Float64Array(2 * points.length);
  points.forEach(({ x, y }, k) => flat.set([x, y], 2 * k));
  return flat;
}

/** The lowest and the highest y of some curves, scaled; infinite the wrong way round where there are none. */
export function extentOf(curves: readonly Curve[]): readonly [number, number] {
  let [low, high] = [Infinity, -Infinity];
  for (const { points, scale = 1 } of curves)
    for (let k = 1; k < points.length; k += 2) {
      const y = (points[k] ?? 0) * scale;
      if (y < low) low = y;
      if (y > high) high = y;
    }
  return [low, high];
}

/** Visits the points of a curve where they lie on screen. */
function along(
  { points, scale = 1 }: Curve,
  plot: Plot,
  visit: (x: number, y: number, isFirst: boolean) => void,
): void {
  const { xRange, yRange } = plot;
  const perX = plot.width / (xRange[1] - xRange[0]);
  const perY = plot.height / (yRange[1] - yRange[0]);
  let isFirst = true;
  for (let k = 0; k + 1 < points.length; k += 2) {
    const value = points[k + 1] ?? 0;
    // A sample that is missing leaves a gap in the curve.
    if (!Number.isNaN(value))
      visit(
        plot.x + ((points[k] ?? 0) - xRange[0]) * perX,
        plot.y + plot.height - (value * scale - yRange[0]) * perY,
        isFirst,
      );
    isFirst = Number.isNaN(value);
  }
}

/** Draws curves within their plot. */
export function drawCurves(context: CanvasRenderingContext2D, curves: readonly Curve[], plot: Plot): void {
  context.save();
  context.beginPath();
  context.rect(plot.x, plot.y - 1, plot.width, plot.height + 2);
  context.clip();
  context.lineWidth = curveWidth;
  context.lineJoin = 'round';
  for (const curve of curves) {
    context.strokeStyle = curve.colour;
    context.setLineDash(curve.isDashed ? [...dash] : []);
    context.beginPath();
    along(curve, plot, (x, y, isFirst) => (isFirst ? context.moveTo(x, y) : context.lineTo(x, y)));
    context.stroke();
  }
  context.restore();
}

/** The same as the path of an SVG, for print. */
export function curvePath(curve: Curve, plot: Plot): string {
  let path = '';
  along(curve, plot, (x, y, isFirst) => (path += `${isFirst ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`));
  return path;
}
