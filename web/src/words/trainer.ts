import type { Answer, Ask } from '../core/strings';

/* The trainer's questions and what is said of their answers. */

export const ASKS: readonly (readonly [Ask, string])[] = [
  ['pluck', 'Does it ring?'],
  ['bow', 'How is the tone?'],
  ['pitch', 'Lower or higher?'],
];

/** Which answers a question has. */
export const ANSWERS_OF: Record<Ask, readonly Answer[]> = {
  pluck: ['rings', 'thud', 'buzz'],
  bow: ['full', 'scratch', 'whisper', 'glass', 'wavers'],
  pitch: ['lower', 'higher'],
};

export const ANSWER_WORDS: Record<Answer, string> = {
  rings: 'It rings',
  short: 'A short ring',
  thud: 'A thud',
  buzz: 'A buzz',
  full: 'Full',
  scratch: 'A scratch',
  whisper: 'A whisper',
  glass: 'Glassy',
  wavers: 'It wavers',
  jump: 'It jumps at the turn',
  'two-strings': 'Two strings at once',
  lower: 'The second is lower',
  higher: 'The second is higher',
};

/** What makes such a sound, and what helps first. */
export const EXPLAINED: Record<Answer, string> = {
  rings: 'The string is held down well, or open, and swings freely. First help: none; say what made it ring.',
  short: 'The string stops sooner than it would. First help: the fingertip firm and close to its place.',
  thud: 'The finger lies on the string and does not hold it down, or the pad touches instead of the tip. First help: tap the tip down until it rings, then let go of all that is too much.',
  buzz: 'The string strikes against something: a finger half down, a neighbour, a loose part, a low nut. First help: the open string first; if that buzzes too, the instrument goes to be looked at.',
  full: 'Weight, speed and place of the bow fit each other. First help: none; ask how it felt.',
  scratch: 'Much weight and little bow. First help: longer bow, let the arm hang.',
  whisper:
    'Little weight, or the bow near the fingerboard. First help: the arm’s weight into the string, midway to the bridge.',
  glass: 'A light bow close to the bridge. First help: back to midway, a little slower.',
  wavers:
    'Speed or weight tremble along the bow. First help: short bows from the middle, loose hand, then longer.',
  jump: 'The next stroke lands hard or in a hurry. First help: slow down before the turn, let go of the weight.',
  'two-strings':
    'The bow lies on two strings. First help: the elbow on the level of the string that is meant.',
  lower: 'The second note was lower.',
  higher: 'The second note was higher.',
};
