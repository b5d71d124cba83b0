import { Id } from '@ulkret/core/breakdown';
import { Student } from '@ulkret/core/people';
import { z } from 'zod';
import { define } from './define';

export const peopleEndpoints = {
  students: define({
    method: 'get',
    path: '/api/students',
    who: 'assistant',
    summary: 'The roster',
    output: z.object({ students: z.array(Student) }),
  }),
  saveStudent: define({
    method: 'put',
    path: '/api/students/:id',
    who: 'assistant',
    summary: 'Add a student under an id made by the device, or change one',
    params: z.object({ id: Id }),
    body: Student,
    output: Student,
  }),
} as const;
