/** Files of a drop, those within folders as well, in the order of their names. */
export async function droppedFiles(data: DataTransfer): Promise<File[]> {
  const entries = [...data.items].flatMap((item) => {
    const entry = item.webkitGetAsEntry();
    return entry === null ? [] : [entry];
  });
  const files = entries.length === 0 ? [...data.files] : (await Promise.all(entries.map(within))).flat();
  return sorted(files);
}

/** Files by their names, without those that systems put beside them. */
export const sorted = (files: readonly File[]): File[] =>
  files
    .filter((f) => !f.name.startsWith('.') && f.name !== 'Thumbs.db')
    .sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0));

async function within(entry: FileSystemEntry): Promise<File[]> {
  if (entry.isFile) {
    return [await new Promise<File>((done, failed) => (entry as FileSystemFileEntry).file(done, failed))];
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const files: File[] = [];
  // A reader gives some at a time, until it gives none.
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((done, failed) => reader.readEntries(done, failed));
    if (some.length === 0) {
      return files;
    }
    files.push(...(await Promise.all(some.map(within))).flat());
  }
}

let waiting: File[] = [];

/** Keeps files that were dropped elsewhere until the page that takes them is there. */
export function hand(files: File[]): void {
  waiting = files;
}

/** The files that were handed on, once. */
export function handed(): File[] {
  const files = waiting;
  waiting = [];
  return files;
}
