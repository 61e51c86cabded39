import { useEffect, useRef } from 'react';
import type { Tick } from '../state/steps';
import { takesText } from '../ui/fields';
import { Key } from '../ui/controls';
import { useBench } from './context';

/** Between two ticks: a key that is held or a finger that drums ticks nothing. */
const APART_MS = 300;
/** Number keys there are; what comes after the ninth is ticked by a press. */
const NUMBERED = 9;

/**
 * A list to tick, each by its own number key or its own press; a tick is taken back by a press on it. The first
 * open one stands out. No key
 * that repeats, and not Enter: what makes safe is read, then ticked.
 */
export function Ticks({ all, large = false }: { all: Tick[]; large?: boolean }) {
  const bench = useBench();
  const { driver, step, mayAct, ready } = bench;
  const first = all.findIndex((t) => !t.done);
  const last = useRef(-Infinity);
  const may = mayAct && ready.doing === null;
  // When a finger acted, not when the page came to it: a page that was busy makes no reading of a drum.
  const toggle = (tick: Tick, at: number): void => {
    if (at - last.current < APART_MS) {
      return;
    }
    last.current = at;
    if (tick.done) {
      void driver.act('Taking back', 'withdrawn', { target: tick.event, reason: 'taken back at the bench' });
    } else {
      void driver.act(
        'Confirming',
        tick.back ? 'restored' : 'holdReleased',
        { step: tick.step, confirmation: tick.confirmation.id },
        step.id,
      );
    }
  };
  const press = useRef(toggle);
  useEffect(() => {
    press.current = toggle;
  });
  useEffect(() => {
    const pressed = (e: KeyboardEvent): void => {
      if (
        e.ctrlKey ||
        e.metaKey ||
        e.altKey ||
        e.repeat ||
        !/^[1-9]$/.test(e.key) ||
        takesText(e.target) ||
        document.querySelector('[role=dialog]') !== null
      ) {
        return;
      }
      const tick = all[Number(e.key) - 1];
      if (may && tick !== undefined && !tick.done) {
        e.preventDefault();
        press.current(tick, e.timeStamp);
      }
    };
    window.addEventListener('keydown', pressed);
    return () => window.removeEventListener('keydown', pressed);
  }, [all, may]);
  return (
    <ul>
      {all.map((tick, i) => (
        <li key={`${tick.step}/${tick.confirmation.id}/${String(tick.back)}`} className="border-b border-rule">
          <label
            className={`flex items-center gap-4 py-2 ${large ? 'min-h-14' : 'min-h-11'} ${i === first ? 'border-l-4 border-lake pl-3' : 'pl-4'}`}
          >
            <input
              type="checkbox"
              className={`shrink-0 ${large ? '!h-6 !w-6' : ''}`}
              checked={tick.done}
              disabled={!may}
              onChange={(e) => toggle(tick, e.timeStamp)}
            />
            {i < NUMBERED ? (
              <span className={`w-7 shrink-0 max-[1000px]:hidden ${tick.done ? 'invisible' : ''}`} aria-hidden>
                <Key>{i + 1}</Key>
              </span>
            ) : (
              <span className="w-7 shrink-0 max-[1000px]:hidden" />
            )}
            <span
              className={`${i === first ? (large ? 'text-[24px] leading-tight font-semibold' : 'text-lg font-semibold') : tick.done ? 'text-quiet' : ''}`}
            >
              {tick.text}
            </span>
            {tick.back ? (
              <span className="ml-auto font-condensed text-[14px] whitespace-nowrap text-quiet">put back</span>
            ) : tick.confirmation.back !== undefined ? (
              <span className="ml-auto font-condensed text-[14px] whitespace-nowrap text-quiet">ticked back later</span>
            ) : null}
          </label>
        </li>
      ))}
    </ul>
  );
}
