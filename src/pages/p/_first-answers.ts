/** What every stage asks for first, sent with its page: the list stands as soon as the scripts do. */
import type { APIContext, APIRoute } from 'astro';
import { setTimeout as wait } from 'node:timers/promises';
import { GET as bins } from '../api/projects/[project]/bins/index';
import { GET as crates } from '../api/projects/[project]/crates/index';
import { GET as project } from '../api/projects/[project]/index';
import { GET as overview } from '../api/projects/[project]/overview';
import { GET as timelines } from '../api/projects/[project]/timelines/index';
import { GET as projects } from '../api/projects/index';
import { GET as runs } from '../api/runs/index';
import { GET as schemes } from '../api/schemes/index';
import { GET as shelves } from '../api/shelves/index';

/** What is not answered by then is left to the page to ask for. */
const MOST_WAIT_MS = 100;
const LARGEST_ANSWER = 200_000;

type Asked = readonly [path: string, answer: APIRoute];

function askedFirst(id: string, stage: string): readonly Asked[] {
  const own: Asked = [`projects/${id}/timelines`, timelines];
  const ofStages: Readonly<Record<string, readonly Asked[]>> = {
    overview: [[`projects/${id}/overview`, overview]],
    timelines: [own],
    sort: [own, ['schemes', schemes]],
    pull: [own],
    proxies: [own, [`projects/${id}/bins`, bins]],
    crates: [own],
    runs: [[`runs?project=${id}&limit=100&offset=0`, runs]],
  };
  return [
    [`projects/${id}`, project],
    ['projects', projects],
    ['shelves', shelves],
    [`runs?project=${id}&limit=1`, runs],
    [`projects/${id}/crates`, crates],
    ...(ofStages[stage] ?? []),
  ];
}

/** JSON to stand in a page: an object of answers by the path they are asked for with. */
export async function firstAnswers(page: Pick<APIContext, 'params' | 'url' | 'request'>): Promise<string> {
  const id = page.params.project!;
  const stage = page.url.pathname.split('/').at(-1)!;
  const late = wait(MOST_WAIT_MS, null, { ref: false });
  const answers = await Promise.all(
    askedFirst(id, stage).map(async ([path, answer]) => {
      const url = new URL(`/api/${path}`, page.url);
      const text = await Promise.race([late, textOf(answer({ params: page.params, request: page.request, url } as APIContext))]);
      return text === null || text.length > LARGEST_ANSWER ? [] : [`${JSON.stringify(path)}:${text}`];
    }),
  );
  return `{${answers.flat().join(',')}}`.replaceAll('<', '\\u003c');
}

async function textOf(answer: Response | Promise<Response>): Promise<string | null> {
  const response = await answer;
  return response.ok ? response.text() : null;
}
