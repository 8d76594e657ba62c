/** Starting ffmpeg and ffprobe: never through a shell, local files only, names that cannot be read as options. */
import { runCommand } from '../outside/run-command';

/** Only plain files may be opened; a playlist named .mov must not reach others. */
const ONLY_FILES = ['-protocol_whitelist', 'file,pipe'];

/** Containers that are read as media; playlists and scripts that point elsewhere are not among them. */
export const FORMATS =
  'mov,mp4,m4a,mxf,wav,w64,aiff,flac,mp3,ogg,matroska,webm,avi,mpeg,mpegts,dv,gxf,image2,image2pipe,png_pipe,jpeg_pipe,dpx_pipe,exr_pipe,tiff_pipe,bmp_pipe,webp_pipe,psd_pipe,gif,caf,aac,ac3,' +
  'asf,flv,rm,au,wv,tta,ape,eac3,dts,amr,j2k_pipe,jpegls_pipe,sgi_pipe';

/** `file:` in front, so that no name is an option or a protocol. */
export function fileArgument(path: string): string {
  return `file:${path}`;
}

/** Pictures above this are not decoded: 16,384 by 8,192. */
export const MOST_PIXELS = 2 ** 27;
/** For what only looks at a file: address space of ffmpeg and ffprobe. */
export const LOOK_MEMORY_BYTES = 3 * 1024 ** 3;
/** In front of the input of what decodes pictures. */
export const LOOK_ARGUMENTS: readonly string[] = ['-max_pixels', String(MOST_PIXELS), '-threads', '1'];

/** Names in which ffmpeg would take a percent sign for a pattern of numbers. */
export const NUMBERED_PICTURE = /\.(png|jpe?g|dpx|exr|tiff?|tga|bmp|cin)$/i;

/** Containers of moving pictures as ffmpeg names their readers: an ending of the name that says otherwise does not count. */
export const READERS: Readonly<Record<string, string>> = { mov: 'mov', mxf: 'mxf' };

/**
 * Input options and the input itself. A percent sign in a picture's name is no numbering pattern. `container`: what the
 * file is known to be, whatever its name says.
 */
export function inputArguments(path: string, container = ''): string[] {
  const reader = READERS[container];
  if (reader) return [...ONLY_FILES, '-format_whitelist', FORMATS, '-f', reader, '-i', fileArgument(path)];
  return [...ONLY_FILES, '-format_whitelist', FORMATS, ...(NUMBERED_PICTURE.test(path) ? ['-pattern_type', 'none'] : []), '-i', fileArgument(path)];
}

/** Pictures that ffmpeg knows by their content, whatever their name says. */
const BY_CONTENT = ['png', 'jpeg', 'dpx', 'exr', 'tiff', 'bmp', 'webp', 'psd'];

/**
 * For a still or one frame of a sequence: as a single picture, no matter what numbers or % its name holds. `container`:
 * what the picture is known to be.
 */
export function pictureArguments(path: string, container = ''): string[] {
  const reader = BY_CONTENT.includes(container) ? ['-f', `${container}_pipe`] : ['-f', 'image2', '-pattern_type', 'none'];
  return [...ONLY_FILES, ...reader, '-i', fileArgument(path)];
}

export interface ToolResult {
  readonly stdout: string;
  readonly stderr: string;
  readonly exitCode: number;
  /** It came to no end of its own: that says nothing of the file. */
  readonly wasEnded: boolean;
}

export interface ToolLimits {
  readonly signal?: AbortSignal;
  readonly timeLimitMs?: number;
  readonly mostMemoryBytes?: number;
  readonly inBackground?: boolean;
  readonly mustWait?: () => boolean;
  readonly asBytes?: boolean;
}

/** A day: a cut of hours of media takes long, but not for ever. */
const LONGEST_MS = 24 * 3600 * 1000;

/** Runs to the end; never throws for an exit code. What it was ended for stands in `stderr`. */
export async function runTool(tool: 'ffmpeg' | 'ffprobe', args: readonly string[], limits: ToolLimits = {}): Promise<ToolResult> {
  const common = tool === 'ffmpeg' ? ['-hide_banner', '-nostdin', '-loglevel', 'error'] : ['-hide_banner', '-loglevel', 'error'];
  const { timeLimitMs = LONGEST_MS, ...others } = limits;
  const { stdout, stderr, exitCode, ended } = await runCommand(tool, [...common, ...args], { timeLimitMs, ...others });
  return { stdout, stderr: ended === null ? stderr : `${tool} ${ENDED[ended]}`, exitCode: exitCode ?? 1, wasEnded: exitCode === null };
}

const ENDED = {
  time: 'took too long and was stopped',
  printed: 'printed too much and was stopped',
  stopped: 'was stopped',
  watched: 'was stopped',
  missing: 'is not installed',
  denied: 'may not be executed',
} as const;

/** Last line of what a tool complained about, without its address decoration. */
export function complaint(stderr: string): string {
  const line = stderr.trim().split('\n').at(-1)?.trim() ?? '';
  return line.replace(/^\[[^\]]+@ 0x[0-9a-f]+\]\s*/, '').replace(/^file:\S*\/([^/]+): /, '$1: ') || 'no reason given';
}
