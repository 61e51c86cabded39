import { useCallback, useEffect, useRef, useState, type RefObject } from 'react';
import type { RunDriver } from '../state/runDriver';

/** What a hand that holds an output wants of it. */
export type Wanted = -1 | 0 | 1;

/** Between two words to the server that it is still held, ms; it takes 700 ms of silence for letting go. */
const BEAT_MS = 150;

/** How far beside the control a finger may stray, px. */
const STRAY = 28;

interface Press {
  /** Whether button or key is down that switched on. */
  down: boolean;
  wanted: Wanted;
}

const KEYS: Readonly<Record<string, Wanted>> = { ArrowUp: 1, ArrowDown: -1 };

/**
 * The hand on an output: pressed since it was switched on, by finger, mouse or key; slid onto a zone, or with an arrow
 * key beside, it raises or lowers. Let go, slid off, or the window left, it is let go for good.
 * @param live whether an output is on that is held by hand
 * @param zones the control with its zones (`data-wanted`), where it is shown
 * @returns what is wanted at the moment; null where it is not held
 */
export function useHand(live: boolean, driver: RunDriver, zones: RefObject<HTMLElement | null>): Wanted | null {
  const press = useRef<Press>({ down: false, wanted: 0 });
  const [shown, show] = useState<Wanted | null>(null);
  const letGo = useCallback(() => {
    const was = press.current.down;
    press.current = { down: false, wanted: 0 };
    show(null);
    if (was && live) {
      void driver.hand(false, 0);
    }
  }, [driver, live]);
  useEffect(() => {
    const want = (wanted: Wanted) => {
      press.current.wanted = wanted;
      show(press.current.down ? wanted : null);
    };
    const listeners: Partial<{ [K in keyof WindowEventMap]: (e: WindowEventMap[K]) => void }> = {
      pointerdown: (e) => {
        if (e.button === 0 && e.target instanceof Element && e.target.closest('[data-hold]') !== null) {
          press.current = { down: true, wanted: 0 };
        }
      },
      pointermove: (e) => {
        if (press.current.down && live) {
          const zone = zoneAt(zones.current, e.clientX, e.clientY);
          if (zone === null) {
            letGo();
          } else {
            want(zone);
          }
        }
      },
      pointerup: letGo,
      pointercancel: letGo,
      keydown: (e) => {
        const wanted = KEYS[e.key];
        if (e.key === 'Enter' && !e.repeat) {
          press.current = { down: true, wanted: 0 };
        } else if (wanted !== undefined && press.current.down && live) {
          e.preventDefault();
          want(wanted);
        }
      },
      keyup: (e) => {
        if (e.key === 'Enter') {
          letGo();
        } else if (e.key in KEYS) {
          want(0);
        }
      },
      blur: letGo,
    };
    const all = Object.entries(listeners) as [string, EventListener][];
    all.forEach(([type, heard]) => window.addEventListener(type, heard));
    return () => all.forEach(([type, heard]) => window.removeEventListener(type, heard));
  }, [letGo, live, zones]);
  useEffect(() => {
    if (!live) {
      return undefined;
    }
    let over = false;
    const beats = async (): Promise<void> => {
      show(press.current.down ? press.current.wanted : null);
      while (!over) {
        const { down, wanted } = press.current;
        if (!(await driver.hand(down, wanted)) || !down) {
          show(null);
          return;
        }
        await new Promise((r) => setTimeout(r, BEAT_MS));
      }
    };
    void beats();
    return () => {
      over = true;
    };
  }, [live, driver]);
  return live ? shown : null;
}

/** What the zone under a place wants; null beside the control. A control that is not there yet lets nothing go. */
function zoneAt(control: HTMLElement | null, x: number, y: number): Wanted | null {
  if (control === null) {
    return 0;
  }
  const box = control.getBoundingClientRect();
  if (x < box.left - STRAY || x > box.right + STRAY || y < box.top - STRAY || y > box.bottom + STRAY) {
    return null;
  }
  for (const zone of control.querySelectorAll('[data-wanted]')) {
    const its = zone.getBoundingClientRect();
    if (x >= its.left && x <= its.right) {
      const wanted = Number(zone.getAttribute('data-wanted'));
      return wanted > 0 ? 1 : wanted < 0 ? -1 : 0;
    }
  }
  return 0;
}
