/** All files of what was dropped, those in folders as well, by path. */
export async function droppedFiles(transfer: DataTransfer): Promise<File[]> {
  const entries = Array.from(transfer.items).flatMap((item) => item.webkitGetAsEntry() ?? []);
  if (entries.length === 0) return Array.from(transfer.files);
  const files = (await Promise.all(entries.map(filesOf))).flat();
  return files.sort((a, b) => a.name.localeCompare(b.name));
}

async function filesOf(entry: FileSystemEntry): Promise<File[]> {
  if (entry.isFile)
    return [await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject))];
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const found: File[] = [];
  // A reader gives a hundred at a time, and none when it is through.
  for (;;) {
    const part = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (part.length === 0) return found;
    found.push(...(await Promise.all(part.map(filesOf))).flat());
  }
}
