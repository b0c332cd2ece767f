/* Building blocks of sentences. */

export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

export function count(number: number, one: string, many = `${one}s`): string {
  return `${number} ${number === 1 ? one : many}`;
}
