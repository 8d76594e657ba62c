/** Running a bridge: in a folder of its own, without a shell, with a time limit; what it prints becomes findings. */
import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { lstat, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { extname, join } from 'node:path';
import { Mutex } from 'async-mutex';
import { notes, warns, type Finding } from '../../core/words/finding';
import { Problem } from '../errors/problem';
import { runCommand } from '../outside/run-command';
import { endStrays, MARK } from '../outside/strays';
import { folderBytes } from '../stock/folder-bytes';
import type { Bridge } from './bridges';

/** Why a bridge gave no timeline. */
export class BridgeError extends Problem {
  constructor(detail: string, hint?: string) {
    super('bridge', detail, hint);
  }
}

/** One after another: each may take all of a machine. */
const turn = new Mutex();

const MOST_PRINTED_BYTES = 1_000_000;
const MOST_LINES_KEPT = 50;
export const MOST_OUTPUT_BYTES = 128 * 1024 * 1024;

/** Text of the OTIO that the bridge made of `content`, and what it printed. Rejects with BridgeError. `signal`: nobody waits any more. */
export async function runBridge(
  bridge: Bridge,
  fileName: string,
  content: Uint8Array,
  signal?: AbortSignal,
): Promise<{ text: string; findings: Finding[] }> {
  const folder = await mkdtemp(join(tmpdir(), 'mill-bridge-'));
  try {
    // The name of the file is hostile: only its ending goes into the command.
    const ending = /^\.[A-Za-z0-9]{1,20}$/.exec(extname(fileName))?.[0] ?? '';
    const [input, output] = [join(folder, `input${ending}`), join(folder, 'output.otio')];
    await writeFile(input, content);
    const [program = '', ...args] = bridge.command.map((part) => part.replaceAll('{input}', input).replaceAll('{output}', output));
    const mark = randomUUID();
    const result = await turn.runExclusive(() =>
      runCommand(program, args, {
        cwd: folder,
        timeLimitMs: bridge.timeLimitSeconds * 1000,
        mostPrintedBytes: MOST_PRINTED_BYTES,
        env: { PATH: process.env.PATH ?? '', LANG: 'C.UTF-8', HOME: folder, [MARK]: mark },
        // All that it writes there, not only the output: a disk is full before a time limit ends.
        watch: async () => ((await folderBytes(folder)) > content.length + MOST_OUTPUT_BYTES ? 'too large' : null),
        ...(signal ? { signal } : {}),
      }).finally(() => endStrays(mark)),
    );
    const printed = `${result.stdout}\n${result.stderr}`
      .split(/\r?\n/)
      .map((line) => line.trim())
      .filter((line) => line !== '');
    const said = printed.at(-1) ? ` It said: ${printed.at(-1)!.slice(0, 300)}` : '';
    if (result.ended === 'stopped') throw new BridgeError(`The bridge "${bridge.name}" was stopped.`);
    if (result.ended === 'time')
      throw new BridgeError(
        `The bridge "${bridge.name}" took longer than ${bridge.timeLimitSeconds} seconds and was stopped.${said}`,
        'Raise its timeLimitSeconds in bridges.json.',
      );
    if (result.ended === 'missing')
      throw new BridgeError(`The bridge "${bridge.name}" cannot be started: ${program} is not there.`, 'Correct its command in bridges.json.');
    if (result.ended === 'denied')
      throw new BridgeError(`The bridge "${bridge.name}" cannot be started: ${program} may not be executed.`, 'Make it executable, or correct its command in bridges.json.'); // prettier-ignore
    if (result.ended === 'watched') throw new BridgeError(`The bridge "${bridge.name}" wrote more than ${MOST_OUTPUT_BYTES} bytes and was stopped.`);
    if (result.ended === 'printed')
      throw new BridgeError(`The bridge "${bridge.name}" printed more than ${MOST_PRINTED_BYTES} bytes and was stopped.`);
    if (result.exitCode !== 0)
      throw new BridgeError(`The bridge "${bridge.name}" failed${result.exitCode === null ? '' : ` (exit code ${result.exitCode})`}.${said}`);
    if (!existsSync(output))
      throw new BridgeError(`The bridge "${bridge.name}" wrote no {output}.${said}`, 'Its command must write the OTIO file to {output}.');
    const standing = await lstat(output);
    if (!standing.isFile()) throw new BridgeError(`The bridge "${bridge.name}" made {output} a folder or a link, not a file.`, 'Its command must write the OTIO file to {output}.'); // prettier-ignore
    const { size } = standing;
    if (size > MOST_OUTPUT_BYTES) throw new BridgeError(`The bridge "${bridge.name}" wrote ${size} bytes, more than ${MOST_OUTPUT_BYTES}.`);
    return { text: await readFile(output, 'utf8'), findings: printedFindings(bridge, printed) };
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

function printedFindings(bridge: Bridge, printed: readonly string[]): Finding[] {
  const kept = printed.slice(0, MOST_LINES_KEPT).map((line) => notes('bridge-said', line.slice(0, 500), undefined, bridge.name));
  return printed.length > MOST_LINES_KEPT
    ? [...kept, warns('bridge-said-more', `The bridge printed ${printed.length - MOST_LINES_KEPT} more lines.`, undefined, bridge.name)]
    : kept;
}
