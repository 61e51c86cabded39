import type { ReactNode } from 'react';

interface Props {
  pattern: string;
  setPattern: (pattern: string) => void;
  /** Words that may stand in braces. */
  words: readonly string[];
  /** Why it cannot be; null where it can. */
  wrong: string | null;
  /** What it makes. */
  children: ReactNode;
}

/** A pattern of names with what it makes, and the words that may stand in it. */
export function PatternField({ pattern, setPattern, words, wrong, children }: Props) {
  return (
    <>
      <label className="font-semibold" htmlFor="pattern">
        Pattern
      </label>
      <input
        id="pattern"
        className="mt-1 w-full font-mono"
        value={pattern}
        onChange={(e) => setPattern(e.target.value)}
        aria-invalid={wrong !== null}
        aria-describedby="preview"
        autoFocus
        spellCheck={false}
      />
      <div id="preview" className="mt-2 min-h-11" aria-live="polite">
        {wrong ?? children}
      </div>
      <p className="mt-2 flex flex-wrap gap-1">
        {words.map((w) => (
          <button
            key={w}
            type="button"
            className="min-h-9 border border-rule bg-sheet px-2 font-mono text-[13px]"
            onClick={() => setPattern(`${pattern}{${w}}`)}
          >
            {`{${w}}`}
          </button>
        ))}
      </p>
    </>
  );
}
