/** Pictures that a person keeps beside a processor, of an outside device above all; kept as they came. */
import { blobs } from "../storage/blobs";
import { imageFormatOf } from "../media/image-signature";
import { Problem } from "../problem";
import { readBody } from "../http/request-body";

const LARGEST_BYTES = 8 * 2 ** 20;

/** @throws Problem where it is no picture, or too large */
export async function keepPhoto(request: Request): Promise<{ hash: string }> {
  const bytes = await readBody(request, LARGEST_BYTES);
  if (!imageFormatOf(bytes))
    throw new Problem(
      415,
      "No picture",
      "This is neither a JPEG, nor a PNG, nor a WebP picture: its first bytes say so.",
    );
  const draft = await blobs.draft();
  try {
    await draft.sink().write(bytes);
    return { hash: (await draft.commit()).hash };
  } finally {
    await draft.discard();
  }
}

/** The type of a kept picture. @throws Problem where the blob is none */
export async function imageMediaType(hash: string): Promise<string> {
  const none = new Problem(404, "Not found", "There is no such picture.");
  if ((await blobs.size(hash)) === undefined) throw none;
  const file = await blobs.open(hash);
  try {
    const type = imageFormatOf(await file.read(0, 12));
    if (!type) throw none;
    return type;
  } finally {
    await file.close();
  }
}
