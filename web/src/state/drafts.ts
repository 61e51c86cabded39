const PREFIX = 'juratest.draft.';

/** What was typed and not sent yet: kept over navigation, reload and a lost link, until it is sent or thrown away. */
export const drafts = {
  read(key: string): string {
    try {
      return localStorage.getItem(PREFIX + key) ?? '';
    } catch {
      // Storage is switched off or full: the field still works, it is only not kept.
      return '';
    }
  },
  write(key: string, text: string): void {
    try {
      if (text === '') {
        localStorage.removeItem(PREFIX + key);
      } else {
        localStorage.setItem(PREFIX + key, text);
      }
    } catch {
      // As above.
    }
  },
};
