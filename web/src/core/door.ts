import { whenIdle } from '../whenIdle';
import { use, useSyncExternalStore } from 'react';
import rulesFile from './bright_row.wasm?url';
import figuresFile from './figures.wasm?url';
import { CoreFile } from './coreFile';
import type { paths } from './door.gen';

/*
 * The door to the core: the rules of Bright Row, the same as on the server, run in the page. A question goes in and its
 * answer comes out at once, without a server; nothing is remembered between two. The drawings are in a file of their own, which is
 * fetched where something is drawn first.
 */

export type Call = keyof paths;
/** What a call takes. */
export type Question<C extends Call> = paths[C]['post']['requestBody']['content']['application/json'];
/** What it answers. */
export type Answer<C extends Call> = paths[C]['post']['responses'][200]['content']['application/json'];

export { CoreFault } from './coreFile';

const rules = new CoreFile(rulesFile);
const figures = new CoreFile(figuresFile);
const OF_FIGURES: ReadonlySet<Call> = new Set<Call>(['figure', 'viewNumbers']);

/** Takes the core in from its file. */
export function takeCore(from: WebAssembly.Module): void {
  rules.take(from);
}

/** Takes the drawings in from theirs. */
export function takeFigures(from: WebAssembly.Module): void {
  figures.take(from);
}

/** Another number for every core that was begun: a new one has learnt nothing yet. */
export function coreAge(): number {
  return rules.age;
}

/** Loads the core, once; after a failure the next call tries again. */
export function loadCore(): Promise<void> {
  return rules.load();
}

/** Whether questions can be asked; loads the core if they cannot. */
export function useCoreIsThere(): boolean {
  return useSyncExternalStore(hearRules, () => rules.there);
}

/** Whether something can be drawn; loads the drawings if not. */
export function useFiguresAreThere(): boolean {
  return useSyncExternalStore(hearFigures, () => figures.there);
}

const hearRules = hearing(rules);
const hearFigures = hearing(figures);

function hearing(file: CoreFile) {
  return (listener: () => void) => {
    const leave = file.hear(listener);
    // A page that shows the server's answers goes on without it, and is drawn first.
    if (!file.there) whenIdle(() => void file.load().catch(() => undefined));
    return leave;
  };
}

/** Asks the core. It has to be there: see `useCore`. */
export function ask<C extends Call>(call: C, question: Question<C>): Answer<C> {
  return (OF_FIGURES.has(call) ? figures : rules).ask(call, question) as Answer<C>;
}

/** The core for a component that cannot be drawn without it: it waits until the core is there. */
export function useCore(): typeof ask {
  // Always: a component that waited has to ask for the same again when it goes on.
  use(loadCore());
  return ask;
}
