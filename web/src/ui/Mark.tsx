import type { Standing } from '../state/steps';
import { VERDICT_WORDS } from '../state/words';

const COLOURS: Record<Standing, string> = {
  pass: 'text-pine',
  marginalInside: 'text-ochre',
  marginalOutside: 'text-ochre',
  fail: 'text-brick',
  notJudged: 'text-quiet',
  skipped: 'text-quiet',
  running: 'text-lake',
  todo: 'text-quiet',
};

function Shape({ standing }: { standing: Standing }) {
  switch (standing) {
    case 'pass':
      return <circle cx="8" cy="8" r="6" fill="currentColor" />;
    case 'marginalInside':
    case 'marginalOutside':
      return (
        <>
          <circle cx="8" cy="8" r="5.25" fill="var(--sheet)" stroke="currentColor" strokeWidth="1.5" />
          <path d="M8 2.75a5.25 5.25 0 0 1 0 10.5z" fill="currentColor" />
        </>
      );
    case 'fail':
      return <path d="M8 .8 15.2 8 8 15.2 .8 8z" fill="currentColor" />;
    case 'notJudged':
      return <circle cx="8" cy="8" r="5" fill="none" stroke="currentColor" strokeWidth="1.75" />;
    case 'skipped':
      return <path d="M3.5 8h9" stroke="currentColor" strokeWidth="2" />;
    case 'running':
      return (
        <path
          d="M8 2.5a5.5 5.5 0 1 1-5.3 4"
          fill="none"
          stroke="currentColor"
          strokeWidth="2.4"
          className="turning origin-center"
        />
      );
    case 'todo':
      return <rect x="4.25" y="4.25" width="7.5" height="7.5" fill="none" stroke="currentColor" strokeWidth="1.5" />;
  }
}

/** The shape of a verdict. It never stands for anything else, and its word goes with it for those who do not see it. */
export function Mark({ standing, size = 14, silent = false }: { standing: Standing; size?: number; silent?: boolean }) {
  return (
    <svg
      viewBox="0 0 16 16"
      width={size}
      height={size}
      className={`shrink-0 ${COLOURS[standing]}`}
      data-standing={standing}
      {...(silent ? { 'aria-hidden': true } : { role: 'img', 'aria-label': VERDICT_WORDS[standing] })}
    >
      <Shape standing={standing} />
    </svg>
  );
}
