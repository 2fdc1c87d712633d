/** The library's types leave this out, which it exports for Node. */
import "tus-js-client";

declare module "tus-js-client" {
  /** Remembers uploads that are under way in a file. */
  class FileUrlStorage implements UrlStorage {
    constructor(path: string);
    findAllUploads(): Promise<PreviousUpload[]>;
    findUploadsByFingerprint(fingerprint: string): Promise<PreviousUpload[]>;
    removeUpload(urlStorageKey: string): Promise<void>;
    addUpload(fingerprint: string, upload: PreviousUpload): Promise<string>;
  }
}
