/* Building blocks of sentences. */

export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

export function count(number: number, one: string, many = `${one}s`): string {
  return `${number} ${number === 1 ? one : many}`;
}

/** With a small first letter, for the middle of a sentence. */
export function small(text: string): string {
  return text.charAt(0).toLowerCase() + text.slice(1);
}

/** One, two or more as a sentence lists them: `one, two and three`. */
export function listed(names: readonly string[]): string {
  const last = names.at(-1) ?? '';
  return names.length < 2 ? last : `${names.slice(0, -1).join(', ')} and ${last}`;
}

/** A text as a sentence: with its full stop. */
export function sentence(text: string): string {
  return /[.!?]$/.test(text) ? text : `${text}.`;
}

/** The first so many names, and how many more there are. */
export function shortened(names: readonly string[], most: number): string {
  const rest = names.length - most;
  return names.slice(0, most).join(', ') + (rest > 0 ? ` and ${rest} more` : '');
}
