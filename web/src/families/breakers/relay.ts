import { onWheel } from '../../draw/wheel';

/** A point of a characteristic, in the unit of its step. */
export interface Spot {
  readonly at: number;
  readonly value: number;
}

/** The path of a sector from one angle to a larger one. */
export function sector(from: number, to: number, radius: number, middle: number): string {
  const a = onWheel(from, radius, middle);
  const b = onWheel(to, radius, middle);
  const large = to - from > 180 ? 1 : 0;
  return `M${middle},${middle} L${a.x.toFixed(2)},${a.y.toFixed(2)} A${radius},${radius} 0 ${large} 0 ${b.x.toFixed(2)},${b.y.toFixed(2)} Z`;
}

/**
 * The corners of a restraint characteristic: level up to where its slope takes over, then along the slope.
 *
 * @param setting where it is level
 * @param slope as a share
 * @param to the last restraint
 */
export function restraint(setting: number, slope: number, to: number): Spot[] {
  const knee = slope > 0 ? setting / slope : to;
  return knee >= to
    ? [
        { at: 0, value: setting },
        { at: to, value: setting },
      ]
    : [
        { at: 0, value: setting },
        { at: knee, value: setting },
        { at: to, value: slope * to },
      ];
}
