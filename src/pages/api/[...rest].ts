import type { APIRoute } from 'astro';
import { problemResponse } from './_answer.ts';

/** Whatever no endpoint answers. */
export const ALL: APIRoute = () => problemResponse(404, 'There is nothing at this address.');
