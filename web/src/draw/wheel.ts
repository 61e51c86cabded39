const radians = (degrees: number): number => (degrees * Math.PI) / 180;

/** Where an angle stands on a wheel: 0° to the right, what leads above. px. */
export function onWheel(degrees: number, radius: number, middle: number): { x: number; y: number } {
  return { x: middle + radius * Math.cos(radians(degrees)), y: middle - radius * Math.sin(radians(degrees)) };
}
