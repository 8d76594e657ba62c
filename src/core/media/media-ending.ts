/** Whether a file is likely media, by the ending of its name alone: for what is only counted, never for what is done. */
const MEDIA =
  /\.(mov|mp4|m4v|mxf|mkv|webm|avi|mts|m2ts|mpe?g|dv|braw|r3d|ari|arx|dng|cine|crm|wav|bwf|w64|aiff?|caf|flac|mp3|m4a|ogg|dpx|exr|tiff?|jpe?g|png|heic|cr[23]|nef|arw|raf)$/i;

/** `name`: of the file, without its folder. What systems keep beside a file ("._A001.mov") is none. */
export function looksLikeMedia(name: string): boolean {
  return !name.startsWith('._') && MEDIA.test(name);
}
