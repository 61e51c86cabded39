import { ArrowDown, ArrowUp } from 'lucide-react';
import type { ReactNode, Ref } from 'react';
import { Key } from '../ui/controls';
import type { Wanted } from './useHand';

interface Props {
  /** Null once it was let go. */
  readonly wanted: Wanted | null;
  readonly ref: Ref<HTMLDivElement>;
}

/** Where the finger that switched on stays, and slides to raise and to lower what flows. */
export function HandControl({ wanted, ref }: Props) {
  const zone = (of: Wanted, className: string, children: ReactNode) => (
    <span
      data-wanted={of}
      data-state={wanted === of ? 'held' : 'free'}
      className={`inline-flex items-center justify-center gap-2 ${className} ${wanted === of ? 'bg-on-hazard text-hazard' : ''}`}
    >
      {children}
    </span>
  );
  return (
    <div
      ref={ref}
      data-hand={wanted === null ? 'letGo' : 'held'}
      role="group"
      aria-label="Held to run"
      className="inline-flex min-h-12 touch-none items-stretch divide-x-2 divide-on-hazard overflow-hidden rounded-xs border-2 border-hazard bg-hazard font-semibold text-on-hazard select-none"
    >
      {zone(0, 'w-[208px] px-4', wanted === null ? 'Let go' : 'Keep holding')}
      {zone(
        -1,
        'w-[124px] px-3',
        <>
          <ArrowDown size={20} aria-hidden /> Lower <Key>↓</Key>
        </>,
      )}
      {zone(
        1,
        'w-[124px] px-3',
        <>
          <ArrowUp size={20} aria-hidden /> Raise <Key>↑</Key>
        </>,
      )}
    </div>
  );
}
