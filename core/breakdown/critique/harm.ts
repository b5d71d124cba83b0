/**
 * What in a text asks for harm: who is moved how, against which joint or neck, and before or after the tap. Force and speed
 * are no harm by themselves: a hand that lets go fast is what a partner hopes for.
 */
export interface Harm {
  words: string;
  /** Where it is not sure, it is asked about and not refused. */
  sure: boolean;
}

const words = (list: string): ReadonlySet<string> => new Set(list.trim().split(/\s+/));

/** Parts that a load can break, or a neck and a face. */
const fragile = words(`
  neck necks spine cervical head heads chin jaw throat face nose ear ears windpipe
  elbow elbows wrist wrists shoulder shoulders knee knees ankle ankles heel heels foot feet toe toes
  finger fingers thumb thumbs arm arms forearm forearms leg legs joint joints limb limbs ligament ligaments tendon tendons
  kneecap collarbone rib ribs vertebra vertebrae calf hand hands`);
/** What else is moved; force on it is ordinary. */
const sturdy = words(`
  hips hip mat floor ground sleeve sleeves collar collars lapel lapels cloth belt gi grip grips weight base
  side sides chest thigh thighs bag dummy wall hook hooks frame frames body torso shin shins
  guard position angle bag post posts waist armpit armpits way`);
/** What can only be somebody's end of a rep: to force it is to force the partner. */
const ends = words(
  'finish lock submission choke strangle armlock leglock hold crank it them him her partner opponent',
);

/** Verbs of letting go and of getting away: the faster the better. */
const releases = words(`
  release releases releasing let lets letting stop stops stopping tap taps tapping open opens loosen relax ease
  disengage abandon protect free frees help helps call calls check checks reset resets breathe`);
/** Verbs that move oneself or a grip, and load nobody. */
const moves = words(`
  step steps move moves switch change changes shrimp scoot sit sits stand post posts hop hops
  recover recovers retreat retreats escape escapes grab grabs take takes catch catches reach reaches swim swims frame frames
  block blocks pummel pummels circle circles pass passes climb climbs crawl walk walks run get gets go goes come turn-in
  insert inserts tuck tucks hide hides pin-own follow follows react reacts answer answers think look looks see sees`);
/** Verbs that put a load on what they name. */
const loads = words(`
  twist twists twisting bend bends bending hyperextend hyperextends extend extends extending straighten straightens
  rotate rotates turn turns torque torques squeeze squeezes squeezing strangle strangles choke chokes clamp clamps
  pull pulls pulling push pushes pushing press presses pressing lift lifts lifting drive drives driving stretch stretches
  throw throws drop drops fall falls roll rolls arch arches bridge bridges thrust thrusts finish finishes finishing
  apply applies applying put puts load loads loading fold folds crush crushes lean leans sink sinks hit hits
  force forces forcing compress compresses raise raises sit-back close closes tighten tightens use uses`);
/** Verbs that are violent whatever the manner. */
const violent = words(`
  jerk jerks jerking yank yanks yanking rip rips ripping wrench wrenches wrenching slam slams slamming snap snaps snapping
  crank cranks cranking break breaks breaking pop pops popping explode explodes exploding smash smashes smashing
  spike spikes kick kicks tear tears tearing heave heaves whip whips whipping stomp stomps dislocate dislocates`);

const manner =
  /\b(hard|harder|hardest|fast|faster|fastest|quick|quickly|quicker|rapidly|swiftly|suddenly|sharply|abruptly|explosively|violently|forcefully|strongly|brutally|ballistically|aggressively|instantly|with (?:a|one) (?:sharp |sudden |quick |hard )?(?:jerk|yank|snap|burst|explosion)|(?:as|so) (?:hard|fast|strong|quick|quickly|strongly|far|much) as|with (?:all|everything|full|maximum|maximal|total)(?: of)?(?: your| the)? ?(?:strength|force|might|power|weight|speed|you have|you['’]ve got)?|(?:all|the whole) (?:of )?your (?:strength|force|might|power|(?:body ?)?weight)|your whole (?:body ?)?weight|at (?:full|maximum|top) (?:force|power|speed|strength)|(?:full|maximum|max|maximal) (?:force|power|speed|strength|effort)|in one (?:motion|move|go))\b/gi;

/** Said before it, it is warned of and not asked for. */
const denied =
  /\b(no|not|never|don['’]?t|doesn['’]?t|do not|must not|mustn['’]?t|cannot|can['’]?t|without|instead of|avoid|avoids|avoiding|nor|neither|rather than|nobody|nothing|stop|stops|refrain from|less|not to|forbidden|beware of|too)\b[^.;:!?]*$/i;

/** What ends nothing that is good: to go on until something gives. */
const untilItGives =
  /\b(?:until|till|before|so that|and) (?:you (?:hear|feel) (?:it |a |the |something )?(?:\w+ )?(?:pop|crack|snap|break|tear|crunch|click|give)|(?:it|something|the (?:\w+ )?(?:joint|elbow|arm|knee|neck|ankle|wrist|shoulder|heel|leg|bone|ligament)s?|they|he|she|the (?:partner|opponent))(?: \w+)? (?:pops?|cracks?|snaps?|breaks?|tears?|gives?(?: way)?|screams?|cr(?:y|ies)(?: out)?|goes? (?:limp|out|to sleep|unconscious)|pass(?:es)? out|falls? asleep|sleeps?|is (?:out|unconscious|asleep|limp|broken|dislocated)|are (?:out|unconscious|asleep|limp)|stops? (?:moving|breathing)|faints?))\b/i;
const limp =
  /\b(?:put|puts|send|sends|choke|chokes|strangle|strangles) (?:them|him|her|the (?:partner|opponent)) (?:out|to sleep|unconscious)\b/i;

/** The moment of the tap, and what must not be done about it. */
const tap =
  '(?:tap(?:s|ped|ping)?|tap out|taps out|submits?|signal(?:s)? (?:to )?stop|says? (?:stop|tap)|verbal tap)';
const tapHarms: readonly RegExp[] = [
  // Before there is a chance to tap.
  new RegExp(
    `\\b(?:before|faster than|quicker than|sooner than) (?:they|he|she|the (?:partner|opponent)|your (?:partner|opponent)|anyone|anybody)(?: can| could| has| have| is able to| gets?| manages? to)?(?: \\w+){0,4} ${tap}\\b`,
    'i',
  ),
  /\b(?:no|without (?:any|a|the)?|little) ?(?:time|chance|moment|room|opportunity|warning|way)(?: for (?:them|him|her|the (?:partner|opponent)))? to (?:tap|react|submit|give up)\b/i,
  /\b(?:too (?:fast|quick|quickly|sudden|suddenly)) (?:for (?:them|him|her|the (?:partner|opponent)|a partner|anybody) )?(?:to (?:tap|react|submit)|for (?:a|the|any) tap)\b/i,
  // Through it, after it, whatever it says.
  new RegExp(
    `\\b(?:through|past|beyond|despite|regardless of|in spite of|even after|even if|even when|even though|no matter)\\b[^.;!?]{0,30}\\b${tap}\\b`,
    'i',
  ),
  new RegExp(
    `\\b(?:ignor\\w*|disregard\\w*|overlook\\w*|pretend\\w* not to|miss(?:es)? on purpose)\\b[^.;!?]{0,30}\\b${tap}\\b`,
    'i',
  ),
  new RegExp(
    `\\b(?:keep|keeps|keeping|continue|continues|carry on|hold on|hang on|go on|goes on|stay on|maintain|hold it|squeeze|squeezing|crank|cranking|pull|pulling|twist|twisting|press|pressing)\\b[^.;!?]{0,50}\\b(?:after|once|although|while|when) (?:the|a|they|he|she|the partner|your partner|the opponent)(?: \\w+)? ?${tap}\\b`,
    'i',
  ),
  new RegExp(
    `\\b(?:wait|waits|pause|delay|count|take your time|hold|one more|another|a second|a moment|seconds?)\\b[^.;!?]{0,50}\\b(?:after|once|when) (?:the|a|they|he|she|the partner|your partner|the opponent)(?: \\w+)? ?${tap}\\b[^.;!?]{0,40}\\b(?:before|then)\\b[^.;!?]{0,20}\\b(?:releas\\w*|let\\w* go|stop\\w*|open\\w*)`,
    'i',
  ),
  new RegExp(
    `\\b(?:do not|don['’]?t|never|no need to|not|refuse to|without)\\b ?(?:ever )?(?:release|releasing|let go|letting go|stop|stopping|ease|open|relax|loosen|wait for|waiting for|respect|listen for|care about|react to|let up)\\b[^.;!?]{0,40}\\b(?:at|on|when|after|for|to|about|just because|if|because of|until)?\\b[^.;!?]{0,20}\\b${tap}\\b`,
    'i',
  ),
  /\b(?:second|third|two|several|double) taps?\b[^.;!?]{0,30}\b(?:before|then|to)\b[^.;!?]{0,20}\b(?:releas\w*|let\w* go|stop\w*)/i,
  /\bonly (?:release|let go|stop|open)\b[^.;!?]{0,20}\b(?:after|at|on|when)\b[^.;!?]{0,20}\b(?:second|third|several|two|referee|coach)\b/i,
  /\b(?:release|let go|stop|open)\b[^.;!?]{0,20}\bonly (?:after|at|on|when)\b[^.;!?]{0,20}\b(?:second|third|several|two|referee|coach)\b/i,
];
const letsGo =
  /\b(releas\w*|let\w* go|stop\w*|eas\w+|open\w*|relax\w*|loosen\w*|escap\w*|abandon\w*|slow\w*|gently|control\w*|hold)\b[^.;!?]*$/i;
/** A warning of exactly that: nothing is asked for. */
const tapWarned = new RegExp(
  `\\b(?:never|do not|don['’]?t|must not|no|avoid)\\b[^.;!?]{0,40}\\b(?:finish|crank|(?<!let )go|keep|continue|hold|squeeze|pull|press|twist|ignor\\w*|wait|delay|put|load|jerk|carry|apply|force|rush)\\w*\\b[^.;!?]{0,60}\\b${tap}\\b`,
  'i',
);

interface Token {
  word: string;
  at: number;
}

const tokensOf = (text: string): Token[] =>
  [...text.matchAll(/[a-z][a-z'’-]*/gi)].map(({ 0: word, index }) => ({
    word: word.toLowerCase(),
    at: index,
  }));

const isOwn = (tokens: readonly Token[], at: number): boolean =>
  tokens.slice(Math.max(0, at - 3), at).some(({ word }) => /^(your|own|my|yourself|yours)$/.test(word)) &&
  !tokens
    .slice(Math.max(0, at - 3), at)
    .some(({ word }) => /^(their|his|her|partner['’]s|opponent['’]s)$/.test(word));

/** Words after which something is the thing that is pressed on. */
const against = /^(against|into|onto|on|through|across|behind|over|from)$/;

type Meets = 'partner' | 'own' | 'sturdy' | 'end' | 'nothing';

/**
 * What a verb at a place meets in its clause: a fragile part of the partner, one's own, something sturdy, the finish itself, or
 * nothing. What one's own part is pressed against counts before that part.
 */
function metBy(tokens: readonly Token[], from: number, to: number, before: readonly Token[]): Meets {
  let first: Meets = 'nothing';
  for (let at = from; at < to; at++) {
    const { word } = tokens[at]!;
    const pressed = tokens.slice(Math.max(from, at - 4), at).some((one) => against.test(one.word));
    let meets: Meets = 'nothing';
    if (fragile.has(word)) meets = isOwn(tokens, at) ? 'own' : 'partner';
    else if (word === 'it' || word === 'them') {
      const named = [...before, ...tokens.slice(0, from)].findLast(
        (one) => fragile.has(one.word) || sturdy.has(one.word),
      );
      meets = named === undefined ? 'end' : fragile.has(named.word) ? 'partner' : 'sturdy';
    } else if (ends.has(word)) meets = 'end';
    else if (sturdy.has(word)) meets = 'sturdy';
    if (meets === 'nothing') continue;
    if (first === 'nothing' || (pressed && (first === 'own' || first === 'sturdy') && meets === 'partner'))
      first = meets;
  }
  return first;
}

/** "The hard bone of the wrist", "a fast lock": the word says what a thing is, not how something is done. */
function saysWhatItIs(clause: string, index: number, word: string): boolean {
  if (!/^(hard|fast|quick|strong)$/i.test(word)) return false;
  const [before, after] = [clause.slice(0, index), clause.slice(index + word.length)];
  return (
    /\b(a|an|the|this|that|its|their|is|are|was|feels?|how|so|very|too|stays?|not)\s+$/i.test(before) &&
    !/^\s+(and|as)\b/i.test(after)
  );
}

/** The harm that a clause asks for; `before` is what was named in its sentence until then. */
function harmInClause(clause: string, before: readonly Token[]): Harm | null {
  const tokens = tokensOf(clause);
  const isDenied = (index: number) => denied.test(clause.slice(0, index));
  for (const [i, { word, at }] of tokens.entries()) {
    if (!violent.has(word) || isDenied(at)) continue;
    // "The crank", "a snap": the name of a thing, unless somebody does it with one.
    if (
      /\b(the|a|an|this|that|neck|no|any)\s+$/i.test(clause.slice(0, at)) &&
      !/\bwith (?:a|one)\s+$/i.test(clause.slice(0, at))
    )
      continue;
    // "Break the grip", "break their posture", "snap to the collar": only what is named at once is broken.
    const breaks = /^(break|pop|snap)/.test(word);
    // A head that is snapped down on the feet is an ordinary way in.
    if (/^snap/.test(word) && /\bhead down\b/i.test(clause)) continue;
    const until = breaks ? Math.min(tokens.length, i + 4) : tokens.length;
    const meets = metBy(tokens, i + 1, until, before);
    if (meets === 'partner') return { words: word, sure: !/^kick/.test(word) };
    if (meets === 'end' && !breaks && !/^explode/.test(word)) return { words: word, sure: true };
    if (meets === 'nothing' && /^(jerk|yank|crank|wrench|slam|rip|heave)/.test(word))
      return { words: word, sure: false };
  }
  for (const { 0: how, index } of clause.matchAll(manner)) {
    if (isDenied(index) || saysWhatItIs(clause, index, how)) continue;
    const here = tokens.findIndex(({ at }) => at >= index);
    const verbs = tokens.flatMap(({ word }, i) =>
      loads.has(word) || moves.has(word) || releases.has(word) || violent.has(word) ? [i] : [],
    );
    const verb = verbs.findLast((i) => i < here) ?? verbs.find((i) => i >= here);
    if (verb === undefined) {
      // "Fast and hard on the elbow": nobody says what is done.
      const meets = metBy(tokens, 0, tokens.length, before);
      if (meets === 'partner' && /\b(on|to|against|into)\b/i.test(clause)) return { words: how, sure: true };
      continue;
    }
    const { word } = tokens[verb]!;
    if (releases.has(word) || (word === 'let' && /\bgo\b/i.test(clause))) continue;
    const meets = metBy(tokens, verb + 1, tokens.length, before);
    if (moves.has(word)) {
      if (meets === 'partner' && /\b(against|into|onto)\b/i.test(clause)) return { words: how, sure: false };
      continue;
    }
    if (!loads.has(word) && !violent.has(word)) continue;
    if (meets === 'partner') {
      // A hand or an arm that is pulled or pushed aside is how grips are fought; held at its end it is a lock.
      const onlyGrips =
        /\b(hands?|arms?|forearms?|legs?|foot|feet|elbows?|wrists?|knees?|shoulders?)\b/i.test(clause) &&
        /\b(aside|away|off|across|to the side|to the mat|open|apart|free)\b/i.test(clause) &&
        !/\b(neck|head|spine|chin|jaw|throat|heel|twist\w*|crank\w*)\b/i.test(clause);
      return { words: how, sure: !onlyGrips };
    }
    if (meets === 'end') return { words: how, sure: true };
    // "Squeeze as hard as you can": somebody's neck is in it, most likely.
    if (
      meets === 'nothing' &&
      /^(squeez|chok|strangl|twist|clamp|finish|hyperext|appl|tight|pull|crush|compress|extend|straight|push|lean|press)/.test(
        word,
      )
    )
      return {
        words: how,
        sure: /^(squeez|chok|strangl|twist|clamp|finish|hyperext|pull|crush|compress)/.test(word),
      };
    if (
      meets === 'own' &&
      /^(squeez|chok|strangl|clamp)/.test(word) &&
      !/\bknees?\b/i.test(clause) &&
      /^as |hardest|^with|^all|full|max/i.test(how)
    )
      return { words: how, sure: true };
    if (
      meets === 'own' &&
      /^(squeez|clamp|thrust|bridg|arch|extend|straight)/.test(word) &&
      /\b(elbow|arm|knee|neck|head|throat)\b/i.test(clause.replace(/\byour (?:own )?\w+/gi, ''))
    )
      return { words: how, sure: false };
  }
  return null;
}

/** The clauses of a sentence; a manner that is said first belongs to the clause after it. */
function clausesOf(sentence: string): string[] {
  const found: string[] = [];
  let first = '';
  for (const clause of sentence.split(/[;:,]|\b(?:and then|then|but)\b/i)) {
    const isManner =
      /^\s*(with|fast|hard|quick|quickly|suddenly|sharply|explosively|violently|in one)\b/i.test(clause) &&
      tokensOf(clause).every(({ word }) => !loads.has(word) && !fragile.has(word));
    if (isManner) first += `${clause} `;
    else {
      found.push(first + clause);
      first = '';
    }
  }
  return first === '' ? found : [...found, first];
}

/** The harm that a text asks for; null where it asks for none, or warns of it. */
export function harmIn(text: string): Harm | null {
  let unsure: Harm | null = null;
  for (const sentence of text.split(/(?<=[.!?])\s+|\n+/)) {
    const warned = tapWarned.test(sentence);
    for (const [i, harm] of (warned ? [] : tapHarms).entries()) {
      const hit = harm.exec(sentence);
      // To let go before somebody has to tap is what one hopes for.
      if (hit && !(i === 0 && letsGo.test(sentence.slice(0, hit.index))))
        return { words: hit[0].trim(), sure: true };
    }
    for (const harm of [untilItGives, limp]) {
      const hit = harm.exec(sentence);
      if (hit && !denied.test(sentence.slice(0, hit.index))) return { words: hit[0].trim(), sure: true };
    }
    const named: Token[] = [];
    for (const clause of clausesOf(sentence)) {
      const harm = harmInClause(clause, named);
      if (harm?.sure) return harm;
      unsure ??= harm;
      named.push(...tokensOf(clause));
    }
  }
  return unsure;
}
