import { Command, useCommandState } from 'cmdk';
import { Popover } from 'radix-ui';
import { useRef, useState, type ComponentProps } from 'react';

interface Props {
  id?: string | undefined;
  'aria-label'?: string | undefined;
  'aria-invalid'?: boolean | undefined;
  'aria-describedby'?: string | undefined;
  value: string;
  onChange: (value: string) => void;
  /** What others chose; anything else can be typed. */
  choices: readonly string[];
  className?: string;
}

/** A field of text with what is often entered there: walked through with the arrows, narrowed by typing. */
export function Suggest({ value, onChange, choices, className = '', ...own }: Props) {
  const [open, setOpen] = useState(false);
  // What stands there narrows nothing until something is typed.
  const [typed, setTyped] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const sought = value.trim().toLowerCase();
  const shown = typed && sought !== '' ? choices.filter((c) => c.toLowerCase().includes(sought)) : choices;
  const isOpen = open && shown.length > 0;
  const show = (is: boolean): void => {
    setOpen(is);
    setTyped(false);
  };
  return (
    <Command shouldFilter={false} loop className={className}>
      <Popover.Root open={isOpen} onOpenChange={show}>
        <Popover.Anchor asChild>
          <Text
            {...own}
            ref={input}
            open={isOpen}
            value={value}
            onChange={(e) => {
              onChange(e.target.value);
              setOpen(true);
              setTyped(true);
            }}
            onKeyDown={(e) => {
              const walks = e.key === 'ArrowDown' || e.key === 'ArrowUp';
              if (walks && !isOpen) {
                e.preventDefault();
                show(true);
              }
              // Only what walks the list and takes from it is the list's; all else belongs to the text.
              if (!isOpen || !(walks || e.key === 'Enter')) {
                e.stopPropagation();
              }
            }}
            onClick={() => show(true)}
            onBlur={() => show(false)}
          />
        </Popover.Anchor>
        <Popover.Portal>
          <Popover.Content
            align="start"
            sideOffset={2}
            onOpenAutoFocus={(e) => e.preventDefault()}
            onCloseAutoFocus={(e) => e.preventDefault()}
            onInteractOutside={(e) => {
              if (input.current?.contains(e.target as Node) === true) {
                e.preventDefault();
              }
            }}
            onMouseDown={(e) => e.preventDefault()}
            className="z-[60] max-h-[min(20rem,var(--radix-popover-content-available-height))] min-w-[var(--radix-popover-trigger-width)] overflow-y-auto rounded-xs border border-ink bg-paper py-1 shadow-[0_8px_24px_rgb(0_0_0/0.25)]"
          >
            <Command.List label="Often entered here">
              {shown.map((c) => (
                <Command.Item
                  key={c}
                  value={c}
                  onSelect={() => {
                    onChange(c);
                    show(false);
                  }}
                  className="flex min-h-9 cursor-pointer items-center px-3 data-[selected=true]:bg-lake data-[selected=true]:text-on-lake max-[1000px]:min-h-11"
                  data-suggested={c}
                >
                  {c}
                </Command.Item>
              ))}
            </Command.List>
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </Command>
  );
}

function Text({ open, ...own }: ComponentProps<'input'> & { open: boolean }) {
  const at = useCommandState((s) => s.selectedItemId);
  return (
    <input
      {...own}
      className="w-full"
      autoComplete="off"
      role="combobox"
      aria-autocomplete="list"
      aria-expanded={open}
      aria-haspopup="listbox"
      aria-activedescendant={open ? at : undefined}
    />
  );
}
