/** SHA-256 of a text's UTF-8, as lower-case hexadecimal (FIPS 180-4). */
import { sha256 } from "@noble/hashes/sha2.js";
import { bytesToHex } from "@noble/hashes/utils.js";
import { utf8 } from "./utf8";

export const sha256Of = (text: string): string => bytesToHex(sha256(utf8(text)));
