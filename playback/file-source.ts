import type { ByteSource } from "@core/files/bytes";

/** Bytes of a file that a person dropped, read where it lies. */
export const fileSource = (file: Blob): ByteSource => ({
  size: file.size,
  read: async (offset, length) => new Uint8Array(await file.slice(offset, offset + length).arrayBuffer()),
});
