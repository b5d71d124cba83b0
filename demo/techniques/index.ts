import { withAnswerIds } from '@ulkret/core/breakdown';
import { BreakdownFile } from '@ulkret/core/formats';
import ankleLock from './ankle-lock.json' with { type: 'json' };
import answerThePhone from './answer-the-phone.json' with { type: 'json' };
import bentArmLock from './bent-arm-lock.json' with { type: 'json' };
import bootAndStand from './boot-and-stand.json' with { type: 'json' };
import crossCollar from './cross-collar.json' with { type: 'json' };
import guardArmlock from './guard-armlock.json' with { type: 'json' };
import headAndArm from './head-and-arm.json' with { type: 'json' };
import legTriangle from './leg-triangle.json' with { type: 'json' };
import northSouthStrangle from './north-south-strangle.json' with { type: 'json' };
import rearStrangle from './rear-strangle.json' with { type: 'json' };
import shoulderToFloor from './shoulder-to-floor.json' with { type: 'json' };
import turnAndRun from './turn-and-run.json' with { type: 'json' };

/** The breakdowns that ship with the program, written from general knowledge of the sport, in the format of an export. */
export const library = [
  rearStrangle,
  guardArmlock,
  legTriangle,
  headAndArm,
  northSouthStrangle,
  ankleLock,
  crossCollar,
  bentArmLock,
  shoulderToFloor,
  turnAndRun,
  bootAndStand,
  answerThePhone,
].flatMap((file) =>
  BreakdownFile.parse(file).techniques.map(({ technique, editions }) => ({
    technique,
    editions: editions.map(withAnswerIds),
  })),
);
