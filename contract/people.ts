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
    summary:
      'Add a student under an id made by the device, or change one; with `base`, what they were when the change began, only what was changed is kept',
    params: z.object({ id: Id }),
    body: Student.extend({ base: Student.optional() }),
    output: Student,
  }),
} as const;
