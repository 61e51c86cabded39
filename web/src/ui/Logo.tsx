/** The mark of the program: a ridge over a line. */
export function Logo({ size }: { size: number }) {
  return (
    <svg viewBox="0 0 32 32" width={size} height={size} fill="none" strokeWidth="2.5" aria-hidden="true">
      <path d="M2 25h28" stroke="var(--lake)" />
      <path d="M4 25 12 7l5 10 4-6 7 14" stroke="currentColor" strokeLinejoin="round" />
    </svg>
  );
}
