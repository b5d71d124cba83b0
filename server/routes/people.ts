import { endpoints, mayAsk, notesSeenBy, type Role } from '@ulkret/contract';
import type { Id } from '@ulkret/core/breakdown';
import type { Router } from 'express';
import type { Db } from '../db/connect';
import { asSeenBy, person, roster, saveStudent } from '../people/roster';
import { answer } from '../http/gate';
import { notFound, Refused } from '../refused';
import type { Settings } from './settings';
import { attendanceOf } from '../people/attendance';
import { erase } from '../people/erase';
import { erasureOf } from '../people/erased';
import { everythingOf } from '../people/everything';
import { mergeStudents } from '../people/merge';
import { notesOn, removeNote, saveNote } from '../people/notes';
import { namesFor, pageOf } from '../people/person-page';

export function peopleRoutes(router: Router, db: Db, { keeper }: Pick<Settings, 'keeper'>): void {
  rosterRoutes(router, db);
  noteRoutes(router, db);
  everythingRoutes(router, db, keeper);
}

function rosterRoutes(router: Router, db: Db): void {
  answer(router, db, endpoints.students, async (_, { coach }) => ({
    students: asSeenBy(coach.role, await roster(db, coach.academyId)),
  }));
  answer(router, db, endpoints.saveStudent, async ({ params, body }, { coach }) => {
    if (params.id !== body.id)
      throw new Refused(
        400,
        'The address and the student have different ids.',
        'Send the student under its own id.',
      );
    if (!mayAsk(coach.role, 'coach') && !(body.guest && !(await person(db, coach.academyId, body.id))))
      throw new Refused(403, 'Assistants can only add guests.', 'Ask a coach; nothing was changed.');
    const { base, namesake = false, ...student } = body;
    if (!(await person(db, coach.academyId, body.id)) && (await erasureOf(db, coach.academyId, body.id)))
      throw new Refused(
        409,
        'This person was erased.',
        'Nothing was saved. If they are back, add them as somebody new.',
      );
    const saved = await saveStudent(db, coach.academyId, student, { base, namesake, by: coach.name });
    if ('namesake' in saved)
      throw new Refused(
        409,
        `${saved.namesake} is already on the roster.`,
        'If this is somebody else, add to the name what tells them apart, or choose “Different person”.',
      );
    if ('contested' in saved)
      throw new Refused(
        409,
        `Somebody else changed ${saved.contested.join(' and ')} of ${student.name} at the same time.`,
        'Your changes were not saved: close this, look again, and change it once more.',
      );
    return asSeenBy(coach.role, [saved])[0]!;
  });

  answer(router, db, endpoints.attendanceOf, async ({ params: { id } }, { coach }) => {
    if (!(await person(db, coach.academyId, id))) throw notFound(`student "${id}" on the roster`);
    return attendanceOf(db, coach.academyId, id);
  });
}

function noteRoutes(router: Router, db: Db): void {
  const notesFor = async ({ academyId, role }: { academyId: Id; role: Role }, id: Id) => {
    if (!(await person(db, academyId, id))) throw notFound(`student "${id}" on the roster`);
    const eyes = notesSeenBy.filter((one) => one !== 'coaches' || mayAsk(role, 'coach'));
    return { notes: await notesOn(db, academyId, id, eyes) };
  };
  answer(router, db, endpoints.personNotes, ({ params: { id } }, { coach }) => notesFor(coach, id));
  answer(router, db, endpoints.savePersonNote, async ({ params: { id, note }, body }, { coach }) => {
    await notesFor(coach, id);
    const { academyId, id: by } = coach;
    const at = new Date().toISOString();
    if (!(await saveNote(db, academyId, { id: note, person: id, by, at, ...body })))
      throw new Refused(409, 'Another coach wrote that note.', 'Write your own; nothing was changed.');
    return notesFor(coach, id);
  });
  answer(router, db, endpoints.removePersonNote, async ({ params: { id, note } }, { coach }) => {
    const by = mayAsk(coach.role, 'head') ? null : coach.id;
    if (!(await removeNote(db, coach.academyId, { id: note, person: id, by })))
      throw notFound('such note of yours');
    return notesFor(coach, id);
  });
}

function everythingRoutes(router: Router, db: Db, keeper: Settings['keeper']): void {
  answer(router, db, endpoints.everything, async ({ params: { id } }, { coach, response }) => {
    const told = await everythingOf(db, coach.academyId, id);
    if (!told) throw notFound(`student "${id}" on the roster`);
    response.attachment(`${id}.json`);
    return told;
  });

  answer(router, db, endpoints.everythingToRead, async ({ params: { id } }, { coach, response }) => {
    const told = await everythingOf(db, coach.academyId, id);
    if (!told) throw notFound(`student "${id}" on the roster`);
    response.attachment(`${id}.html`);
    return pageOf(told, await namesFor(db, coach.academyId, told), new Date().toISOString());
  });

  answer(router, db, endpoints.mergeStudents, async ({ params: { id }, body: { into } }, { coach }) => {
    const one = await mergeStudents(db, coach.academyId, id, into);
    if (one === null) throw notFound('such two people on the roster');
    if (one === 'met')
      throw new Refused(
        409,
        'They have drilled with each other, so they are two people.',
        'Nothing was changed. If a rep names the wrong one, fix that rep first.',
      );
    return one;
  });

  answer(router, db, endpoints.erase, async ({ params: { id } }, { coach }) => {
    await erase(db, coach.academyId, id);
    // Asked once more, it says how far it is.
    const known = await erasureOf(db, coach.academyId, id);
    if (!known) throw notFound(`student "${id}" on the roster`);
    const { reps, remadeAt } = known;
    if (!keeper) return { reps, backups: 'none' as const };
    return { reps, backups: remadeAt === null ? await keeper.forgetBefore() : ('remade' as const) };
  });
}
