import { z } from 'zod';
import { define } from './define';

export const keepingEndpoints = {
  health: define({
    method: 'get',
    path: '/api/health',
    who: 'anyone',
    summary: 'Is the server up and its database reachable?',
    output: z.object({ status: z.literal('ok'), version: z.string(), database: z.literal('ok') }),
  }),
} as const;
