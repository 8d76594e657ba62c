/** What every stage asks for first, sent with its page: the list stands as soon as the scripts do. */
import type { APIContext } from 'astro';
import { setTimeout as wait } from 'node:timers/promises';
import { answerApi } from '../../server/api/answer-api';

/** What is not answered by then is left to the page to ask for. */
const MOST_WAIT_MS = 100;
const LARGEST_ANSWER = 200_000;

function askedFirst(id: string, stage: string): readonly string[] {
  const own = `projects/${id}/timelines`;
  const ofStages: Readonly<Record<string, readonly string[]>> = {
    overview: [`projects/${id}/overview`],
    timelines: [own],
    sort: [own, 'schemes'],
    pull: [own],
    proxies: [own, `projects/${id}/bins`],
    crates: [own],
    runs: [`runs?project=${id}&limit=100&offset=0`],
  };
  return [`projects/${id}`, 'projects', 'shelves', `runs?project=${id}&limit=1`, `projects/${id}/crates`, ...(ofStages[stage] ?? [])];
}

/** JSON to stand in a page: an object of answers by the path they are asked for with. */
export async function firstAnswers(page: Pick<APIContext, 'params' | 'url'>): Promise<string> {
  const id = page.params.project!;
  const stage = page.url.pathname.split('/').at(-1)!;
  const late = wait(MOST_WAIT_MS, null, { ref: false });
  const answers = await Promise.all(
    askedFirst(id, stage).map(async (path) => {
      const url = new URL(`/api/${path}`, page.url);
      const request = new Request(url);
      const text = await Promise.race([late, textOf(answerApi(path.split('?', 1)[0]!, { url, request }))]);
      return text === null || text.length > LARGEST_ANSWER ? [] : [`${JSON.stringify(path)}:${text}`];
    }),
  );
  return `{${answers.flat().join(',')}}`.replaceAll('<', '\\u003c');
}

async function textOf(answer: Response | Promise<Response>): Promise<string | null> {
  const response = await answer;
  return response.ok ? response.text() : null;
}
