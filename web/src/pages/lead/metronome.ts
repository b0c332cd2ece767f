import type { Clock, Tick } from './clock';

/** So far ahead of their moment ticks are handed to the clock, in seconds: longer than a busy page makes a timer wait. */
const AHEAD = 0.4;

/** What is heard of a beat: its kind, and into how many equal parts it falls. */
export type Heard = (beat: number) => { kind: Tick; parts: number } | undefined;

/**
 * Beats at an even tempo. Every beat has its moment by reckoning from where the tempo began, never from the beat before: however
 * late the page looks, nothing adds up.
 */
export class Metronome {
  private first: number;
  private at: number;
  private planned: number;

  constructor(
    private readonly clock: Clock,
    private tempo: number,
    beat: number,
    private readonly beats: number,
    private readonly heard: Heard,
  ) {
    this.first = beat;
    // A breath, so that the first beat is heard whole.
    this.at = clock.now() + 0.12;
    this.planned = beat;
  }

  /** When a beat sounds, in seconds of the clock. */
  momentOf(beat: number): number {
    return this.at + ((beat - this.first) * 60) / this.tempo;
  }

  /** The beat that sounds now; the one it begins with until then, and the number of beats after the end. */
  beat(): number {
    const since = ((this.clock.now() - this.at) * this.tempo) / 60;
    // Reckoning back and forth loses less than this.
    return Math.min(this.beats, this.first + Math.max(0, Math.floor(since + 1e-6)));
  }

  /** Hands over the ticks of the beats that come soon; to be called several times a second. */
  plan(): void {
    const until = this.clock.now() + AHEAD;
    while (this.planned < this.beats && this.momentOf(this.planned) < until) {
      const moment = this.momentOf(this.planned);
      const heard = this.heard(this.planned);
      if (heard) {
        this.clock.tick(moment, heard.kind);
        for (let part = 1; part < heard.parts; part += 1) {
          this.clock.tick(moment + (part * 60) / this.tempo / heard.parts, 'soft');
        }
      }
      this.planned += 1;
    }
  }

  /** Goes on at another tempo from the next beat on. */
  setTempo(tempo: number): void {
    const next = Math.min(this.beats, this.beat() + 1);
    const moment = this.momentOf(next);
    this.first = next;
    this.at = moment;
    this.tempo = tempo;
    // What was handed over at the tempo before is taken back and planned anew.
    this.clock.hush();
    this.planned = next;
  }

  stop(): void {
    this.clock.hush();
  }
}
