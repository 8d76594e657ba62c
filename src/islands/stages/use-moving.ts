/** Going from stage to stage: the address changes, the page stays. */
import { useEffect, useState } from 'react';
import { flushSync } from 'react-dom';
import { addressWritten } from '../shared/use-address';
import { setMover } from '../shared/go-to';
import { lostSince } from '../shared/news/line-state';
import { tellError } from '../shared/notices';
import { STAGES, stagePath, type Stage } from '../shared/stages';
import { contentOf, fetchContent, keepContent, type StageContent } from './stage-contents';

interface Shown {
  readonly stage: Stage['id'];
  readonly content: StageContent;
}

/** What is not needed yet is fetched when the stage that was asked for has had its time. */
const AHEAD_MS = 3_000;

export function useMoving(projectId: string, first: Shown): Shown {
  const [shown, show] = useState(first);
  useEffect(() => {
    keepContent(first.stage, first.content);
    const moving = new Moving(projectId, first.stage, show);
    return moving.begin();
  }, [projectId]);
  return shown;
}

class Moving {
  /** What followed the address of each stage when it was left. */
  private readonly left = new Map<Stage['id'], string>();
  private latest = 0;

  constructor(
    private readonly projectId: string,
    private stage: Stage['id'],
    private readonly show: (shown: Shown) => void,
  ) {}

  /** Answers how to end it. */
  begin(): () => void {
    const ahead = setTimeout(() => STAGES.forEach(({ id }) => void fetchContent(id).catch(noMatter)), AHEAD_MS);
    const ends = new AbortController();
    const listens = { signal: ends.signal };
    document.addEventListener('click', this.onClick, listens);
    document.addEventListener('pointerover', this.onPointer, listens);
    window.addEventListener('popstate', this.onBack, listens);
    setMover((address, how) => this.goTo(address, how === 'as left'));
    return () => (clearTimeout(ahead), ends.abort(), setMover(null));
  }

  /** Whether it is a place of this project; then one is on the way there. */
  private goTo(address: string, isAsLeft: boolean): boolean {
    const to = new URL(address, window.location.href);
    const stage = this.stageAt(to);
    if (stage === null) return false;
    const asLeft = isAsLeft && stage !== this.stage ? this.left.get(stage) : undefined;
    void this.move(stage, `${to.pathname}${asLeft ?? to.search}`);
    return true;
  }

  private stageAt({ origin, pathname }: URL): Stage['id'] | null {
    if (origin !== window.location.origin) return null;
    return STAGES.find(({ id }) => stagePath(this.projectId, id) === pathname)?.id ?? null;
  }

  private async move(stage: Stage['id'], address: string): Promise<void> {
    const own = ++this.latest;
    leaveField();
    const content = contentOf(stage) ?? (await fetchContent(stage).catch(() => null));
    // What was chosen just before belongs to the address that is left.
    await addressWritten();
    if (own !== this.latest) return;
    if (content === null) return this.moveByPage(address);
    this.left.set(this.stage, window.location.search);
    window.history.pushState(null, '', address);
    this.arrive(stage, content);
    // Within a stage those who read the address have to be told.
    window.dispatchEvent(new PopStateEvent('popstate'));
  }

  /** A script that is not to be had belongs to a server of another version, or there is none. */
  private moveByPage(address: string): void {
    if (lostSince.get() === null) window.location.href = address;
    else tellError(new Error('This stage cannot be opened while the server does not answer.'));
  }

  private arrive(stage: Stage['id'], content: StageContent): void {
    const isOther = stage !== this.stage;
    this.stage = stage;
    document.title = `${STAGES.find(({ id }) => id === stage)!.name} · Mill Shelf`;
    if (!isOther) return;
    flushSync(() => this.show({ stage, content }));
    // The keyboard is not left on what has gone.
    if (document.activeElement === document.body) document.querySelector<HTMLElement>('main.stage')?.focus({ preventScroll: true });
  }

  private readonly onClick = (event: MouseEvent): void => {
    if (event.defaultPrevented || event.button !== 0 || event.metaKey || event.ctrlKey || event.shiftKey || event.altKey) return;
    const link = linkAt(event.target);
    if (link && this.goTo(link.href, link.closest('.rail') !== null)) event.preventDefault();
  };

  /** A stage that is pointed at is likely to be gone to. */
  private readonly onPointer = (event: PointerEvent): void => {
    const link = linkAt(event.target);
    const stage = link && this.stageAt(new URL(link.href));
    if (stage) void fetchContent(stage).catch(noMatter);
  };

  private readonly onBack = (): void => {
    const stage = this.stageAt(new URL(window.location.href));
    if (stage === null || stage === this.stage) return;
    const own = ++this.latest;
    leaveField();
    const content = contentOf(stage);
    if (content) return this.arrive(stage, content);
    void fetchContent(stage).then(
      (fetched) => own === this.latest && this.arrive(stage, fetched),
      () => window.location.reload(),
    );
  };
}

/** What is being typed is left as by any other way: what is taken off the page says nothing any more. */
function leaveField(): void {
  const at = document.activeElement;
  if (at instanceof HTMLElement && at.matches('input, textarea')) at.blur();
}

/** A link that opens here, not beside. */
function linkAt(target: EventTarget | null): HTMLAnchorElement | null {
  const link = target instanceof Element ? target.closest<HTMLAnchorElement>('a[href]') : null;
  return link && link.target === '' && !link.hasAttribute('download') ? link : null;
}

/** Fetched again when the user goes there. */
const noMatter = () => undefined;
