import type { ButtonHTMLAttributes, ReactNode } from 'react';

type Weight = 'primary' | 'plain' | 'quiet';

const WEIGHTS: Record<Weight, string> = {
  primary:
    'bg-lake text-on-lake border-lake font-semibold disabled:bg-transparent disabled:text-quiet disabled:border-quiet',
  plain: 'bg-sheet text-ink border-ink font-semibold disabled:text-quiet disabled:border-rule',
  quiet:
    'bg-transparent text-lake border-transparent font-semibold underline-offset-4 hover:underline disabled:text-quiet',
};

/** A button of 44 px. One primary on a screen at a time. */
export function Button({
  weight = 'plain',
  className = '',
  ...rest
}: { weight?: Weight } & ButtonHTMLAttributes<HTMLButtonElement>) {
  return (
    <button
      type="button"
      className={`inline-flex min-h-11 items-center justify-center gap-2 rounded-xs whitespace-nowrap border px-4 text-[15px] ${WEIGHTS[weight]} ${className}`}
      {...rest}
    />
  );
}

/** The key that does the same. */
export function Key({ children }: { children: ReactNode }) {
  return (
    <kbd className="rounded-xs border max-[1000px]:hidden border-current px-1.5 font-mono text-xs font-medium">
      {children}
    </kbd>
  );
}

/** Something that went wrong: what happened, what it means, what to do. */
export function Notice({ children, action }: { children: ReactNode; action?: ReactNode }) {
  return (
    <div
      role="alert"
      className="flex flex-wrap items-center gap-x-4 gap-y-2 border-l-4 border-ink bg-sheet px-4 py-2.5"
    >
      <div className="min-w-0 flex-[1_1_18rem]">{children}</div>
      {action === undefined ? null : <div className="flex flex-wrap gap-2">{action}</div>}
    </div>
  );
}
