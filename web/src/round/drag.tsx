import {
  KeyboardSensor,
  MouseSensor,
  TouchSensor,
  useSensor,
  useSensors,
  type Announcements,
  type KeyboardCoordinateGetter,
  type ScreenReaderInstructions,
  type UniqueIdentifier,
} from '@dnd-kit/core';

/** With the arrows from the place it is at to the nearest other one in that direction. */
const toNextPlace: KeyboardCoordinateGetter = (event, { context, currentCoordinates }) => {
  const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.code];
  if (step === undefined) {
    return undefined;
  }
  event.preventDefault();
  const [dx = 0, dy = 0] = step;
  const from = context.collisionRect;
  if (from === null) {
    return currentCoordinates;
  }
  let best: { x: number; y: number } | null = null;
  let least = Infinity;
  for (const [id, place] of context.droppableRects) {
    if (id === context.over?.id) {
      continue;
    }
    const x = place.left + Math.min(place.width, from.width) / 2 - (from.left + from.width / 2);
    const y = place.top + Math.min(place.height, 40) / 2 - (from.top + from.height / 2);
    const along = x * dx + y * dy;
    const across = Math.abs(x * dy) + Math.abs(y * dx);
    const far = along + across * 2;
    if (along > 4 && far < least) {
      least = far;
      best = { x: currentCoordinates.x + x, y: currentCoordinates.y + y };
    }
  }
  return best ?? currentCoordinates;
};

/**
 * Dragged by mouse after a few pixels, by a finger that rests first (else it scrolls), or by keys: Space takes and
 * drops, arrows move, Escape leaves it.
 */
export const useDragging = (): ReturnType<typeof useSensors> =>
  useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: 5 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 220, tolerance: 6 } }),
    useSensor(KeyboardSensor, {
      coordinateGetter: toNextPlace,
      keyboardCodes: { start: ['Space'], cancel: ['Escape'], end: ['Space', 'Enter'] },
    }),
  );

/** How it goes by keys, for those who hear the page. */
export const HOW: ScreenReaderInstructions = {
  draggable:
    'Press space to take it, the arrows to move it, space again to put it down, Escape to leave it where it was.',
};

/** What happens while something is dragged, for those who hear the page. */
export const announced = (named: (id: UniqueIdentifier) => string, place: string): Announcements => ({
  onDragStart: ({ active }) => `${named(active.id)} is taken.`,
  onDragOver: ({ active, over }) =>
    over === null ? `${named(active.id)} is over no ${place}.` : `${named(active.id)} is at ${named(over.id)}.`,
  onDragEnd: ({ active, over }) =>
    over === null ? `${named(active.id)} stays.` : `${named(active.id)} was put down at ${named(over.id)}.`,
  onDragCancel: ({ active }) => `${named(active.id)} stays where it was.`,
});
