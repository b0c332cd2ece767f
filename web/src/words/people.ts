import type { Schemas } from '../api/client';

type Role = Schemas['Role'];

/** What a role is called. */
export function roleWords(role: Role): string {
  return { owner: 'Owner', director: 'Director', assistant: 'Assistant', substitute: 'Substitute' }[role];
}

/** What each role may, in a sentence. */
export const ROLES: readonly (readonly [role: Role, may: string])[] = [
  ['owner', 'Everything of the program: people, keeping, all classes.'],
  ['director', 'Everything of the classes given.'],
  [
    'assistant',
    'Reads the classes given, records observations and tapes at the bench; changes nothing else.',
  ],
];

const DEEDS: Record<Schemas['Deed'], string> = {
  'signed-in': 'signed in',
  'device-ended': 'signed a device out',
  'account-changed': 'changed the own name or address',
  'password-changed': 'changed the own password',
  'second-factor-changed': 'turned the own second factor on or off',
  'program-made': 'made the program',
  'program-renamed': 'renamed the program',
  'program-taken-out': 'took the whole program out',
  'program-brought-in': 'brought a program in',
  'keeping-changed': 'changed how long things are kept',
  invited: 'invited somebody',
  'invitation-revoked': 'took an invitation back',
  joined: 'came in by an invitation',
  'role-changed': 'changed somebody’s role or classes',
  'person-removed': 'let somebody go',
  'password-link-made': 'made a link to a new password',
  'class-added': 'added a class',
  'class-renamed': 'renamed a class',
  'class-archived': 'archived a class',
  'class-reopened': 'opened a class again',
  'class-deleted': 'deleted a class',
  'settings-changed': 'changed settings of a class',
  'roster-changed': 'changed who is in a class, or where',
  'brought-in': 'brought a file in',
  'taken-out': 'took a file out',
  'child-taken-out': 'took a child’s record out',
  'child-removed': 'removed a child',
  'child-settings-changed': 'changed what counts for a child',
  'store-room-changed': 'changed the store room',
  'calendar-address-made': 'made a class’s calendar an address',
  'calendar-address-ended': 'ended the address of a class’s calendar',
  'group-kept': 'kept a small group',
  'group-ended': 'ended a small group',
  'notes-cleared': 'cleared old notes',
  'audit-cleared': 'cleared old entries of this list',
  restored: 'restored a backup',
};

/** What was done, as it is said after a name; a deed of a newer version by its word. */
export function deedWords(deed: Schemas['Deed'] | undefined, word: string): string {
  return deed ? DEEDS[deed] : word;
}
