import type { APIRoute } from 'astro';
import { answerApi } from '../../server/api/answer-api';

/** All of the interface: its routes stand in one table. */
export const ALL: APIRoute = ({ url, request }) => answerApi(url.pathname.slice('/api/'.length), { url, request });
