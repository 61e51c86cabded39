import { Select as Parts } from 'radix-ui';
import { Children, Fragment, isValidElement, type ReactElement, type ReactNode, type Ref } from 'react';

interface Props {
  id?: string | undefined;
  name?: string | undefined;
  'aria-label'?: string | undefined;
  'aria-invalid'?: boolean | undefined;
  'aria-describedby'?: string | undefined;
  value: string;
  onChange: (value: string) => void;
  /** What there is to choose: {@link Option}s, alone or in {@link OptionGroup}. */
  children: ReactNode;
  disabled?: boolean | undefined;
  className?: string | undefined;
  autoFocus?: boolean | undefined;
  onKeyDown?: React.KeyboardEventHandler<HTMLButtonElement> | undefined;
  ref?: Ref<HTMLButtonElement> | undefined;
}

/** One that can be chosen. */
export interface OptionProps {
  /** Absent where it is its words. */
  value?: string | undefined;
  children: ReactNode;
  disabled?: boolean;
}

/** Read by the {@link Select} around it; it draws nothing itself. */
export const Option = (props: OptionProps): ReactNode => props.children;

/** Some that belong together, under a name. */
export const OptionGroup = ({ children }: { label: string; children: ReactNode }): ReactNode => children;

/** The empty choice has a value, too: the list below knows none that is empty. */
const NONE = '\u0000';
const inner = (value: string): string => (value === '' ? NONE : value);
const outer = (value: string): string => (value === NONE ? '' : value);

interface Group {
  label: string | null;
  options: (OptionProps & { value: string })[];
}

function groups(children: ReactNode): Group[] {
  const all: Group[] = [];
  const add = (label: string | null, given: OptionProps): void => {
    const option = { ...given, value: given.value ?? Children.toArray(given.children).join('') };
    const last = all[all.length - 1];
    if (last !== undefined && last.label === label) {
      last.options.push(option);
    } else {
      all.push({ label, options: [option] });
    }
  };
  const read = (nodes: ReactNode, label: string | null): void =>
    Children.forEach(nodes, (node) => {
      if (!isValidElement(node)) {
        return;
      }
      if (node.type === Option) {
        add(label, (node as ReactElement<OptionProps>).props);
      } else if (node.type === OptionGroup) {
        const { props } = node as ReactElement<{ label: string; children: ReactNode }>;
        read(props.children, props.label);
      } else if (node.type === Fragment) {
        read((node as ReactElement<{ children: ReactNode }>).props.children, label);
      }
    });
  read(children, null);
  return all;
}

/** A list of which one is chosen: with the arrows, by typing how it begins, by touch. */
export function Select({ value, onChange, children, disabled, className = '', ...own }: Props) {
  const all = groups(children);
  const chosen = all.flatMap((g) => g.options).find((o) => o.value === value);
  return (
    <Parts.Root
      value={inner(value)}
      onValueChange={(next) => onChange(outer(next))}
      {...(disabled === undefined ? {} : { disabled })}
    >
      <Parts.Trigger {...own} className={`field-select ${className}`} data-select={value}>
        <span className="min-w-0 flex-1 truncate text-left">
          <Parts.Value>{chosen?.children ?? ''}</Parts.Value>
        </span>
        <Parts.Icon asChild>
          <svg viewBox="0 0 10 6" width={10} height={6} className="shrink-0" aria-hidden="true">
            <path d="M1 1l4 4 4-4" fill="none" stroke="currentColor" strokeWidth="1.6" />
          </svg>
        </Parts.Icon>
      </Parts.Trigger>
      <Parts.Portal>
        <Parts.Content
          position="popper"
          sideOffset={2}
          className="z-[60] max-h-[min(26rem,var(--radix-select-content-available-height))] min-w-[var(--radix-select-trigger-width)] overflow-hidden rounded-xs border border-ink bg-paper shadow-[0_8px_24px_rgb(0_0_0/0.25)]"
        >
          <Parts.Viewport className="py-1">
            {all.map((group, i) => (
              <Parts.Group key={group.label ?? `alone ${i}`}>
                {group.label === null ? null : (
                  <Parts.Label className="px-3 pt-2 pb-1 text-[13px] font-semibold text-quiet">
                    {group.label}
                  </Parts.Label>
                )}
                {group.options.map((o) => (
                  <Parts.Item
                    key={o.value}
                    value={inner(o.value)}
                    {...(o.disabled === undefined ? {} : { disabled: o.disabled })}
                    className="flex min-h-9 cursor-pointer items-center gap-2 px-3 outline-none data-disabled:text-quiet data-highlighted:bg-lake data-highlighted:text-on-lake max-[1000px]:min-h-11"
                    data-option={o.value}
                  >
                    <span className="w-3 shrink-0">
                      <Parts.ItemIndicator>
                        <svg viewBox="0 0 12 10" width={12} height={10} aria-hidden="true">
                          <path d="M1 5l3.5 3.5L11 1" fill="none" stroke="currentColor" strokeWidth="1.8" />
                        </svg>
                      </Parts.ItemIndicator>
                    </span>
                    <Parts.ItemText>{o.children}</Parts.ItemText>
                  </Parts.Item>
                ))}
              </Parts.Group>
            ))}
          </Parts.Viewport>
        </Parts.Content>
      </Parts.Portal>
    </Parts.Root>
  );
}
