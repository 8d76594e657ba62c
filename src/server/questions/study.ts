/**
 * Questions about projects take reading and reckoning: views, plans, usage, and bringing timelines in. They are answered in
 * worker threads, from a connection of their own, so that the server's event loop stays free.
 */
import { join } from 'node:path';
import { LRUCache } from 'lru-cache';
import { Catalogue } from '../catalogue/catalogue';
import type { Config } from '../config';
import { DriveBay } from '../devices/drive-bay';
import { log } from '../log/log';
import { withCurrentIds } from '../projects/current-ids';
import { Mounts, type Silence } from '../stock/mounts';
import { Json } from './question';
import { Studying } from './studying';
import { questionOf, type AnswerTo, type Question } from './questions';

const MOST_KEPT_LETTERS = 32 * 1024 * 1024;

export class Study extends Studying {
  /** Answers that were given, each with what it was made of. */
  private readonly kept = new LRUCache<string, { readonly made: string; readonly json: string }>({
    maxSize: MOST_KEPT_LETTERS,
    sizeCalculation: ({ json }) => json.length + 1,
  });

  /** In a thread of its own: its log is as the instance's. */
  static open(config: Config, silence: Silence): Study {
    log.level = config.logLevel;
    const bay = config.bayFolder ? new DriveBay(config.bayFolder) : null;
    return new Study(
      Catalogue.open(join(config.dataFolder, 'catalogue.sqlite'), true),
      new Mounts(join(config.dataFolder, 'mounts.json'), config.roots, bay, silence),
      bay,
    );
  }

  /** The answer as JSON; as it was given before where nothing is another that it was made of. */
  async answerJson(question: Question): Promise<string> {
    const { madeOf } = questionOf(question.ask);
    if (!madeOf) return this.asText(question);
    this.mounts.reload();
    // Read before the answer is made: what changes meanwhile is another stamp the next time.
    const made = madeOf(this, question);
    const key = JSON.stringify(question);
    const known = this.kept.get(key);
    if (known?.made === made) return known.json;
    const json = await this.asText(question);
    this.kept.set(key, { made, json });
    return json;
  }

  async answer<Q extends Question>(asked: Q): Promise<AnswerTo<Q['ask']>> {
    const found = await this.found(asked);
    return (found instanceof Json ? JSON.parse(found.text) : found) as AnswerTo<Q['ask']>;
  }

  /** Made into text once, here in its thread. */
  private async asText(question: Question): Promise<string> {
    const found = await this.found(question);
    return found instanceof Json ? found.text : JSON.stringify(found);
  }

  private found(asked: Question): unknown {
    this.mounts.reload();
    const { namesTimelines, answer } = questionOf(asked.ask);
    const projectId = 'projectId' in asked ? asked.projectId : null;
    const question = namesTimelines && projectId !== null ? withCurrentIds(asked, this.catalogue.timelines.followers(projectId)) : asked;
    return answer(this, question);
  }
}
