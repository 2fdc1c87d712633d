/** Where a master is made: a folder of this machine with its sound, what is encoded of it, and that decoded again. */
import { rm } from "node:fs/promises";
import { join } from "node:path";
import { align } from "@core/compare/alignment";
import { FileProblem, type ByteSink, type ByteSource } from "@core/files/bytes";
import { openSoundFile } from "@core/files/open";
import type { Tags } from "@core/files/tags";
import type { MasterTarget } from "@core/delivery/master-job";
import type { MasterFormat } from "@core/delivery/recipe";
import { isOwnContainer } from "@core/files/containers";
import { FileSink, openFile, type OpenFile } from "../storage/byte-files";
import { decodeSound, encodeSound, soundUnderPicture } from "../media/encode";
import { checkPicture, trackOffset } from "../media/video";
import type { VideoAbout } from "../media/encode";

export interface MasterFileOptions {
  format: MasterFormat;
  tags: Tags;
  /** Files of this machine. */
  cover: string | null;
  /** The video that the sound is from, for masters that are one. */
  video: VideoAbout | null;
}

/** Below this likeness, what was decoded tells nothing of its place. */
const RECOGNISED = 0.6;

export class MasterFile implements MasterTarget {
  #sink: FileSink | null = null;
  readonly #opened: OpenFile[] = [];

  /** @param folder for this master alone; `close` removes it */
  constructor(
    readonly folder: string,
    readonly about: MasterFileOptions,
    readonly signal?: AbortSignal,
    /** Throws where the disk has no room left. */
    readonly keepRoom?: () => Promise<void>,
  ) {}

  /** The sound as it was before it was encoded. */
  get soundPath(): string {
    return join(this.folder, "sound");
  }

  /** The finished file. */
  get path(): string {
    return this.encode ? join(this.folder, "encoded") + this.#ending : this.soundPath;
  }

  /** Some containers are chosen by the ending of the name. */
  get #ending(): string {
    return this.about.video ? `.${this.about.video.extension}` : "";
  }

  async open(): Promise<ByteSink> {
    await this.#sink?.close();
    await rm(this.soundPath, { force: true });
    return (this.#sink = await FileSink.create(this.soundPath, this.keepRoom));
  }

  get encode(): (() => Promise<void>) | undefined {
    return isOwnContainer(this.about.format.container) ? undefined : () => this.#encode();
  }

  async #encode(): Promise<void> {
    await this.#sink!.sync();
    await this.keepRoom?.();
    const { format, tags, cover, video } = this.about;
    await rm(this.path, { force: true });
    if (format.container === "video") {
      if (!video) throw new Error("The recording has no picture: choose another kind of file for this deliverable.");
      const offsetSeconds = await trackOffset(video.path, video.track);
      const sound = { ...video, picture: video.path, sound: this.soundPath, out: this.path, format, offsetSeconds };
      await soundUnderPicture(sound, this.signal);
      await checkPicture(video.path, this.path, this.signal);
      return;
    }
    const sound = await openFile(this.soundPath);
    const about = (await openSoundFile(sound))!;
    await sound.close();
    const seconds = about.frames / about.sampleRate;
    await encodeSound(
      { sound: this.soundPath, out: this.path, folder: this.folder, format, tags, seconds, cover },
      this.signal,
    );
  }

  async readBack(): Promise<ByteSource> {
    let path = this.soundPath;
    if (this.encode) {
      path = join(this.folder, "decoded");
      await rm(path, { force: true });
      await decodeSound(this.path, 0, path, this.signal);
    } else await this.#sink!.sync();
    const file = await openFile(path);
    this.#opened.push(file);
    if (this.about.format.container === "video") await this.#checkSound(file);
    return file;
  }

  /** @throws FileProblem where the sound under the picture is not where it was put */
  async #checkSound(decoded: OpenFile): Promise<void> {
    const sound = await openFile(this.soundPath);
    try {
      const [wanted, heard] = [(await openSoundFile(sound))!, (await openSoundFile(decoded))!];
      if (wanted.sampleRate !== heard.sampleRate) return; // Opus has a rate of its own
      // An encoder may begin earlier by what it needs to get going: the file says when it begins.
      const earlier =
        (await trackOffset(this.about.video!.path, this.about.video!.track)) - (await trackOffset(this.path));
      // Silence cannot be laid on silence.
      const found = await align(wanted, heard).catch(() => null);
      const off = found ? found.shift - Math.round(earlier * heard.sampleRate) : 0;
      if (found && found.likeness > RECOGNISED && off !== 0)
        throw new FileProblem(`The sound lies ${off} samples off its place under the picture: nothing was delivered.`);
    } finally {
      await sound.close();
    }
  }

  /** Puts everything on the disk. */
  async finish(): Promise<void> {
    await this.#sink?.sync();
    await this.#sink?.close();
    this.#sink = null;
    for (const file of this.#opened.splice(0)) await file.close();
  }

  /** Closes and removes everything that was not taken away. */
  async close(): Promise<void> {
    await this.#sink?.close().catch(() => undefined);
    for (const file of this.#opened.splice(0)) await file.close();
    await rm(this.folder, { recursive: true, force: true });
  }
}
