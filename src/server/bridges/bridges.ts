/**
 * Bridges: outside commands that turn a file this application does not read into OTIO. They are configured in
 * `bridges.json` of the data folder by whoever runs the server, never through the API.
 */
import { existsSync, readFileSync } from 'node:fs';
import Joi from 'joi';

export interface Bridge {
  readonly name: string;
  /** Endings of the files it takes, in lower case with the point: ".txt". */
  readonly endings: readonly string[];
  /** Program and arguments. `{input}` and `{output}` stand for the two files; nothing goes through a shell. */
  readonly command: readonly string[];
  readonly timeLimitSeconds: number;
}

export interface BridgeList {
  readonly bridges: readonly Bridge[];
  /** Why the file cannot be used, in a sentence; null when it can. */
  readonly problem: string | null;
}

const schema = Joi.object<{ bridges: Bridge[] }>({
  bridges: Joi.array()
    .items(
      Joi.object({
        name: Joi.string().max(100).required(),
        endings: Joi.array()
          .items(Joi.string().pattern(/^\.[a-z0-9.]{1,20}$/, 'ending such as ".txt"'))
          .min(1)
          .required(),
        command: Joi.array().items(Joi.string()).min(1).required(),
        timeLimitSeconds: Joi.number().integer().min(1).max(3600).default(60),
      }),
    )
    .required(),
});

export function readBridges(file: string): BridgeList {
  if (!existsSync(file)) return { bridges: [], problem: null };
  try {
    const checked = schema.validate(JSON.parse(readFileSync(file, 'utf8')));
    return checked.error
      ? { bridges: [], problem: `bridges.json cannot be used: ${checked.error.message}.` }
      : { bridges: checked.value.bridges, problem: null };
  } catch (error) {
    return { bridges: [], problem: `bridges.json cannot be read: ${(error as Error).message}.` };
  }
}

/** The bridge for a file name, by its ending. */
export function bridgeFor(bridges: readonly Bridge[], fileName: string): Bridge | null {
  const lower = fileName.toLowerCase();
  return bridges.find((bridge) => bridge.endings.some((ending) => lower.endsWith(ending))) ?? null;
}
