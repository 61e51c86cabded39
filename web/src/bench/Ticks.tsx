import type { Tick } from '../state/steps';
import { useBench } from './context';

/** A list to tick, one by one; a tick is taken back by clicking it again. The first open one stands out. */
export function Ticks({ all, large = false }: { all: Tick[]; large?: boolean }) {
  const bench = useBench();
  const { driver, step, mayAct, ready } = bench;
  const first = all.findIndex((t) => !t.done);
  const toggle = (tick: Tick): void => {
    if (tick.done) {
      void driver.act('Taking back', 'withdrawn', { target: tick.event, reason: 'taken back at the bench' });
    } else {
      void driver.act('Confirming', tick.back ? 'restored' : 'holdReleased', { step: tick.step, confirmation: tick.confirmation.id }, step.id);
    }
  };
  return (
    <ul>
      {all.map((tick, i) => (
        <li key={`${tick.step}/${tick.confirmation.id}/${String(tick.back)}`} className="border-b border-rule">
          <label className={`flex items-center gap-4 py-2 ${large ? 'min-h-14' : 'min-h-11'} ${i === first ? 'border-l-4 border-lake pl-3' : 'pl-4'}`}>
            <input type="checkbox" className={`shrink-0 ${large ? '!h-6 !w-6' : ''}`} checked={tick.done} disabled={!mayAct || ready.doing !== null} onChange={() => toggle(tick)} />
            <span className={`${i === first ? (large ? 'text-[24px] leading-tight font-semibold' : 'text-lg font-semibold') : tick.done ? 'text-quiet' : ''}`}>{tick.text}</span>
            {tick.back ? <span className="ml-auto font-condensed text-[14px] whitespace-nowrap text-quiet">put back</span> : tick.confirmation.back !== undefined ? <span className="ml-auto font-condensed text-[14px] whitespace-nowrap text-quiet">ticked back later</span> : null}
          </label>
        </li>
      ))}
    </ul>
  );
}
