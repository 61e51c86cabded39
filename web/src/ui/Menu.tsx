import { DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';

/** Things that can be done, one under the other. */
export function Menu({ word, children }: { word: string; children: ReactNode }) {
  return (
    <Dropped
      trigger={
        <DropdownMenu.Trigger className="inline-flex min-h-11 items-center gap-1.5 rounded-xs border border-ink bg-sheet px-4 font-semibold whitespace-nowrap">
          {word}
          <svg viewBox="0 0 10 6" width={10} height={6} aria-hidden="true">
            <path d="M1 1l4 4 4-4" fill="none" stroke="currentColor" strokeWidth="1.6" />
          </svg>
        </DropdownMenu.Trigger>
      }
    >
      {children}
    </Dropped>
  );
}

/** The same in the narrow end of a row. */
export function DotsMenu({ word, children }: { word: string; children: ReactNode }) {
  return (
    <Dropped
      trigger={
        <DropdownMenu.Trigger
          aria-label={word}
          className="inline-flex h-11 w-full items-center justify-center text-[20px] text-quiet hover:text-ink"
        >
          <svg viewBox="0 0 16 4" width={16} height={4} aria-hidden="true">
            <path d="M0 0h4v4H0zM6 0h4v4H6zM12 0h4v4h-4z" fill="currentColor" />
          </svg>
        </DropdownMenu.Trigger>
      }
    >
      {children}
    </Dropped>
  );
}

function Dropped({ trigger, children }: { trigger: ReactNode; children: ReactNode }) {
  return (
    <DropdownMenu.Root>
      {trigger}
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-50 min-w-52 rounded-xs border border-ink bg-paper py-1 shadow-[0_8px_24px_rgb(0_0_0/0.25)]"
        >
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

export function MenuItem({ chosen, children }: { chosen: () => void; children: ReactNode }) {
  return (
    <DropdownMenu.Item
      className="flex min-h-11 cursor-pointer items-center px-4 font-semibold outline-none data-highlighted:bg-lake data-highlighted:text-on-lake"
      onSelect={chosen}
    >
      {children}
    </DropdownMenu.Item>
  );
}
