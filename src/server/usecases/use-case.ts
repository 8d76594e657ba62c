/** What a use case gets: the house, on whose word it acts, and what it is to do. HTTP doors, and whatever else acts, only call them. */
export type { House } from '../house';

/** On whose word something is done; see runs/actor.ts. */
export type Actor = string;
