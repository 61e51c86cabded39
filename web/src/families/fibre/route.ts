import type { Verdict } from '../../api/types';
import { worst } from '../../state/steps';
import type { LevelEvent } from '../../ui/DistanceField';
import { heights, parseRoute } from '../../draw/route';
import type { RibbonPlace } from '../../ui/RouteRibbon';

/** A fibre is longer than its route: stranding, where nothing else is known. */
const STRANDING = 1.02;
const JOINTS: ReadonlySet<string> = new Set(['closure', 'patch point']);
/** How far from where it should be an event may be and still be that closure: part of the length, and m. */
const OFF = 0.012;
const OFF_METRES = 25;

/**
 * What stands along a link on the axis of a trace: where the trace shows a closure it stands there, between them
 * straight.
 * @param text the route of its plate
 * @param end length of fibre, m; undefined where the trace does not show it
 * @param far whether the trace was taken from the far end
 */
export function alongFibre(
  text: string,
  events: readonly LevelEvent[],
  end: number | undefined,
  far: boolean,
): RibbonPlace[] {
  const told = parseRoute(text);
  const whole = told[told.length - 1]?.km ?? 0;
  const places = far ? told.map((p) => ({ ...p, km: whole - p.km })).reverse() : told;
  const ground = heights(far ? [...told].reverse().map((p) => ({ ...p })) : told);
  let slack = 0;
  const expected = places.map((p) => {
    const at = p.km * 1000 * STRANDING + slack;
    slack += p.slack;
    return at;
  });
  const total = expected[expected.length - 1] ?? 0;
  const stretch = end === undefined || total === 0 ? 1 : end / total;
  const tied = places.map((p, i): { at: number; verdict?: Verdict } | null => {
    const at = (expected[i] ?? 0) * stretch;
    if (i === 0 || i === places.length - 1) {
      return { at };
    }
    const near = JOINTS.has(p.what)
      ? [...events]
          .filter((e) => Math.abs(e.at - at) <= OFF_METRES + OFF * at)
          .sort((a, b) => Math.abs(a.at - at) - Math.abs(b.at - at))
      : [];
    // What is wrong beside a closure is looked for in that closure.
    return near[0] === undefined ? null : { at: near[0].at, verdict: worst(near.map((e) => e.verdict)) as Verdict };
  });
  return places.map((p, i) => {
    const own = tied[i];
    const before = tied.slice(0, i).findLastIndex((t) => t !== null);
    const after = tied.findIndex((t, j) => j > i && t !== null);
    const a = tied[before];
    const b = tied[after];
    const from = places[before]?.km ?? 0;
    const to = places[after]?.km ?? 0;
    const at =
      own?.at ??
      (a !== undefined && a !== null && b !== undefined && b !== null && to > from
        ? a.at + ((p.km - from) / (to - from)) * (b.at - a.at)
        : (expected[i] ?? 0) * stretch);
    const verdict = own?.verdict;
    return {
      at,
      name: p.name,
      height: ground[i] ?? 0,
      first: p.what === 'end' || verdict === 'fail',
      ...(verdict === undefined || verdict === 'notJudged' ? {} : { verdict }),
    };
  });
}
