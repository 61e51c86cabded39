import { useCallback, useEffect, useRef, useState, type ReactNode } from 'react';

/** How long a press is held before something is switched on, ms. */
export const HOLD_MS = 1200;

/**
 * A hold in progress, the same for finger, mouse and key: begins, and either lasts long enough or is let go.
 * The key must have been up before: a key that still repeats from an earlier press begins nothing.
 */
export function useHold(done: () => void): { holding: boolean; begin: () => void; letGo: () => void } {
  const [holding, setHolding] = useState(false);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const latest = useRef(done);
  useEffect(() => {
    latest.current = done;
  });
  const letGo = useCallback(() => {
    clearTimeout(timer.current);
    timer.current = undefined;
    setHolding(false);
  }, []);
  const begin = useCallback(() => {
    if (timer.current !== undefined) {
      return;
    }
    setHolding(true);
    timer.current = setTimeout(() => {
      timer.current = undefined;
      setHolding(false);
      latest.current();
    }, HOLD_MS);
  }, []);
  useEffect(() => {
    window.addEventListener('blur', letGo);
    return () => {
      window.removeEventListener('blur', letGo);
      clearTimeout(timer.current);
    };
  }, [letGo]);
  return { holding, begin, letGo };
}

/** The button that switches something on: pressed for 1.2 s, so that no stray click does it. */
export function HoldButton({ hold, children }: { hold: ReturnType<typeof useHold>; children: ReactNode }) {
  return (
    <button
      type="button"
      data-hold
      data-state={hold.holding ? 'held' : 'waiting'}
      className="relative inline-flex min-h-12 touch-none items-center justify-center gap-2 overflow-hidden rounded-xs border-2 border-on-hazard bg-hazard px-5 font-semibold text-on-hazard select-none"
      onPointerDown={(e) => {
        if (e.button === 0) {
          e.currentTarget.setPointerCapture(e.pointerId);
          hold.begin();
        }
      }}
      onPointerUp={hold.letGo}
      onPointerCancel={hold.letGo}
      onLostPointerCapture={hold.letGo}
      onPointerMove={(e) => {
        // A finger that slides off the button lets go.
        const box = e.currentTarget.getBoundingClientRect();
        if (e.clientX < box.left || e.clientX > box.right || e.clientY < box.top || e.clientY > box.bottom) {
          hold.letGo();
        }
      }}
      onContextMenu={(e) => e.preventDefault()}
    >
      <span
        data-hold-fill
        className="absolute inset-0 origin-left bg-on-hazard/25"
        style={{
          transform: hold.holding ? 'scaleX(1)' : 'scaleX(0)',
          transition: hold.holding ? `transform ${HOLD_MS}ms linear` : 'none',
        }}
        aria-hidden="true"
      />
      <span className="relative inline-flex items-center gap-2">{hold.holding ? 'Keep holding…' : children}</span>
    </button>
  );
}
