/** Endings of the files that are taken in; what they really hold is found out when they are read. */
export const SOUND_EXTENSIONS: readonly string[] = [
  ".wav", ".wave", ".rf64", ".bw64", ".w64", ".aif", ".aiff", ".aifc", ".caf",
  ".flac", ".mp3", ".m4a", ".m4b", ".aac", ".alac", ".opus", ".ogg", ".oga", ".wv", ".ac3", ".eac3", ".wma",
  ".mp4", ".m4v", ".mov", ".mkv", ".webm", ".mka", ".avi", ".mpg", ".mpeg", ".ts", ".mxf",
];
