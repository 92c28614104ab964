import { shortName } from './names.ts';

/** Names what stands at points given as shares of the viewport. */
export function elementsAt(points: { x: number; y: number }[]): string[] {
  const names = new Set<string>();
  for (const point of points) {
    const element = document.elementFromPoint(point.x * innerWidth, point.y * innerHeight);
    // What carries a class or id of its own says more than the box that happens to lie on top.
    const named = element?.closest('[id],[class]') ?? element;
    if (named && named !== document.documentElement && named !== document.body) names.add(shortName(named));
  }
  return [...names];
}
