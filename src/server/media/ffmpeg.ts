/** Starting ffmpeg and ffprobe: never through a shell, local files only, names that cannot be read as options. */
import { execa, type ResultPromise } from 'execa';

/** Only plain files may be opened; a playlist named .mov must not reach others. */
const ONLY_FILES = ['-protocol_whitelist', 'file,pipe'];

/** Containers that are read as media; playlists and scripts that point elsewhere are not among them. */
const FORMATS =
  'mov,mp4,m4a,mxf,wav,w64,aiff,flac,mp3,ogg,matroska,webm,avi,mpeg,mpegts,dv,gxf,image2,image2pipe,png_pipe,jpeg_pipe,dpx_pipe,exr_pipe,tiff_pipe,bmp_pipe,webp_pipe,psd_pipe,gif,caf,aac,ac3';

/** `file:` in front, so that no name is an option or a protocol. */
export function fileArgument(path: string): string {
  return `file:${path}`;
}

/** Containers of moving pictures as ffmpeg names their readers: an ending of the name that says otherwise does not count. */
const READERS: Readonly<Record<string, string>> = { mov: 'mov', mxf: 'mxf' };

/**
 * Input options and the input itself. A percent sign in a picture's name is no numbering pattern. `container`: what the
 * file is known to be, whatever its name says.
 */
export function inputArguments(path: string, container = ''): string[] {
  const reader = READERS[container];
  if (reader) return [...ONLY_FILES, '-format_whitelist', FORMATS, '-f', reader, '-i', fileArgument(path)];
  return [
    ...ONLY_FILES,
    '-format_whitelist',
    FORMATS,
    ...(/\.(png|jpe?g|dpx|exr|tiff?|tga|bmp|cin)$/i.test(path) ? ['-pattern_type', 'none'] : []),
    '-i',
    fileArgument(path),
  ];
}

/** For a still or one frame of a sequence: as a single picture, no matter what numbers or % its name holds. */
export function pictureArguments(path: string): string[] {
  return [...ONLY_FILES, '-f', 'image2', '-pattern_type', 'none', '-i', fileArgument(path)];
}

export interface ToolResult {
  readonly stdout: string;
  readonly stderr: string;
  readonly exitCode: number;
}

/** Runs to the end; never throws for an exit code. */
export async function runTool(tool: 'ffmpeg' | 'ffprobe', args: readonly string[], signal?: AbortSignal, timeoutMs = 600_000): Promise<ToolResult> {
  const result = await startTool(tool, args, signal, timeoutMs);
  return { stdout: String(result.stdout ?? ''), stderr: String(result.stderr ?? ''), exitCode: result.exitCode ?? 1 };
}

export function startTool(
  tool: 'ffmpeg' | 'ffprobe',
  args: readonly string[],
  signal?: AbortSignal,
  timeoutMs?: number,
): ResultPromise<{ reject: false; maxBuffer: number }> {
  const common = tool === 'ffmpeg' ? ['-hide_banner', '-nostdin', '-loglevel', 'error'] : ['-hide_banner', '-loglevel', 'error'];
  return execa(tool, [...common, ...args], {
    reject: false,
    stdin: 'ignore',
    maxBuffer: 64 * 1024 * 1024,
    ...(signal ? { cancelSignal: signal } : {}),
    ...(timeoutMs ? { timeout: timeoutMs } : {}),
  }) as ResultPromise<{ reject: false; maxBuffer: number }>;
}

/** Last line of what a tool complained about, without its address decoration. */
export function complaint(stderr: string): string {
  const line = stderr.trim().split('\n').at(-1)?.trim() ?? '';
  return line.replace(/^\[[^\]]+@ 0x[0-9a-f]+\]\s*/, '').replace(/^file:\S*\/([^/]+): /, '$1: ') || 'no reason given';
}
