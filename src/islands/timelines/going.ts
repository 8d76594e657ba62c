/** Where one goes within the stage: to a timeline, an event on it, what is looked for. */
export interface Going {
  readonly timelineId: string | null;
  readonly eventIndex: number | null;
  readonly find: string;
}
