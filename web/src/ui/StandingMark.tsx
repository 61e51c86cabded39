import type { Standing } from '../api/types';

export const STANDING_WORDS: Record<Standing, string> = {
  act: 'Act',
  watch: 'Watch',
  sound: 'Sound',
  unknown: 'Not known',
};

/** A standing as the server says it. */
export const asStanding = (word: string): Standing =>
  word === 'act' || word === 'watch' || word === 'sound' ? word : 'unknown';

function Shape({ standing }: { standing: Standing }) {
  switch (standing) {
    case 'act':
      return <path d="M8 2 15 14H1z" fill="currentColor" />;
    case 'watch':
      return (
        <path d="M8 3.2 13.6 13H2.4z" fill="none" stroke="currentColor" strokeWidth="1.6" strokeLinejoin="miter" />
      );
    case 'sound':
      return <circle cx="8" cy="8" r="3" fill="currentColor" />;
    case 'unknown':
      return <path d="M4.5 4.5l7 7m0-7l-7 7" stroke="currentColor" strokeWidth="1.6" />;
  }
}

const INK: Record<Standing, string> = {
  act: 'text-ink',
  watch: 'text-ink',
  sound: 'text-quiet',
  unknown: 'text-quiet',
};
const COLOURS: Record<Standing, string> = {
  act: 'text-brick',
  watch: 'text-ochre',
  sound: 'text-pine',
  unknown: 'text-quiet',
};

/**
 * How an asset stands. These shapes are no verdicts, and ink: what is to be done is told by shape and word. Beside the
 * drift map they have the map's colours.
 */
export function StandingMark({
  standing,
  size = 14,
  silent = false,
  coloured = false,
}: {
  standing: Standing;
  size?: number;
  silent?: boolean;
  coloured?: boolean;
}) {
  return (
    <svg
      viewBox="0 0 16 16"
      width={size}
      height={size}
      className={`shrink-0 ${(coloured ? COLOURS : INK)[standing]}`}
      data-mark={standing}
      {...(silent ? { 'aria-hidden': true } : { role: 'img', 'aria-label': STANDING_WORDS[standing] })}
    >
      <Shape standing={standing} />
    </svg>
  );
}

/**
 * What must not be used, wherever it is shown: words in ink on a sheet with a heavy frame, and the sign of
 * prohibition's bar.
 */
export function BarredTag({ why }: { why?: string }) {
  return (
    <span
      className="inline-flex items-center gap-1.5 border-2 border-ink bg-sheet px-1.5 text-[13px] font-semibold whitespace-nowrap"
      data-hint={why}
      data-barred
    >
      <svg viewBox="0 0 16 16" width={12} height={12} aria-hidden="true">
        <path d="M2.5 2.5l11 11" stroke="currentColor" strokeWidth="2.2" />
        <circle cx="8" cy="8" r="6.6" fill="none" stroke="currentColor" strokeWidth="1.8" />
      </svg>
      Do not use
    </span>
  );
}
