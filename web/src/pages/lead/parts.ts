/** The pages of a drill that is led, loaded together when one is first opened. */
export { Lead } from './Lead';
export { Remote } from './Remote';
export { Waiting } from './Waiting';
