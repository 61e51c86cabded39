import { Dialog as Parts } from 'radix-ui';
import type { ReactNode } from 'react';

/** A question over the page. Escape closes it; while something is live Escape stops that first. */
export function Dialog({
  title,
  close,
  children,
  wide = false,
}: {
  title: string;
  close: () => void;
  children: ReactNode;
  wide?: boolean;
}) {
  return (
    <Parts.Root open onOpenChange={(open) => (open ? undefined : close())}>
      <Parts.Portal>
        <Parts.Overlay className="fixed inset-0 z-40 bg-[#0b1014]/55" />
        <Parts.Content
          aria-describedby={undefined}
          className={`fixed top-1/2 left-1/2 z-50 max-h-[88vh] w-[min(94vw,var(--w))] -translate-x-1/2 -translate-y-1/2 overflow-y-auto rounded-xs border border-ink bg-paper p-6 shadow-[0_12px_40px_rgb(0_0_0/0.35)] ${wide ? '[--w:720px]' : '[--w:520px]'}`}
        >
          <Parts.Title className="mb-4 text-xl font-semibold">{title}</Parts.Title>
          {children}
        </Parts.Content>
      </Parts.Portal>
    </Parts.Root>
  );
}
