import { loadStrings } from '../core/strings';

/** How a tone sounds. */
export type Sound = 'plucked' | 'held';

/** Seconds that a tone sounds. */
const SECONDS: Record<Sound, number> = { plucked: 2.2, held: 3 };
/** Seconds that a tone to tune by sounds: a peg takes its time. */
const TUNING_SECONDS = 40;
/** Seconds of a held tone that are computed; from the first on it goes round. */
const HELD_SECONDS = 3.6;
const ROUND_FROM = 1;
const ROUND_SECONDS = 2.4;
const LOUDNESS = 0.7;

let context: AudioContext | undefined;
let sounding: AudioBufferSourceNode | undefined;
// Another number for each tone: what is computed too late does not sound.
let turn = 0;

/** The tone that sounds now stops. */
export function hush(): void {
  turn += 1;
  sounding?.stop();
  sounding = undefined;
}

function opened(): AudioContext {
  context ??= new AudioContext();
  void context.resume();
  return context;
}

function swell(audio: AudioContext, seconds: number): GainNode {
  const gain = audio.createGain();
  const now = audio.currentTime;
  gain.gain.setValueAtTime(0, now);
  gain.gain.linearRampToValueAtTime(LOUDNESS, now + 0.02);
  gain.gain.setValueAtTime(LOUDNESS, now + Math.max(0.02, seconds - 0.15));
  gain.gain.linearRampToValueAtTime(0, now + seconds);
  gain.connect(audio.destination);
  return gain;
}

function start(
  audio: AudioContext,
  samples: Float32Array<ArrayBuffer>,
  seconds: number,
): AudioBufferSourceNode {
  const buffer = audio.createBuffer(1, Math.max(1, samples.length), audio.sampleRate);
  buffer.copyToChannel(samples, 0);
  const source = audio.createBufferSource();
  source.buffer = buffer;
  source.connect(swell(audio, seconds));
  source.start();
  source.stop(audio.currentTime + seconds);
  sounding = source;
  return source;
}

/** Plays samples at {@link soundRate} through the device's speaker; the tone before them stops. */
export function playSamples(samples: Float32Array<ArrayBuffer>): void {
  const audio = opened();
  hush();
  start(audio, samples, samples.length / audio.sampleRate);
}

/** Samples a second of what is played. */
export function soundRate(): number {
  return opened().sampleRate;
}

/** Plays a string through the device's speaker, as the core computes it; the tone before it stops. */
export async function play(hz: number, how: Sound): Promise<void> {
  const audio = opened();
  hush();
  const mine = turn;
  const strings = await loadStrings();
  if (turn !== mine) return;
  const seconds = SECONDS[how];
  start(audio, strings.tone(audio.sampleRate, hz, how === 'held', seconds), seconds);
}

/** Sounds a string long enough to tune by; `ended` is called when it has sounded out. The one before it stops. */
export async function sound(hz: number, ended: () => void): Promise<void> {
  const audio = opened();
  hush();
  const mine = turn;
  const strings = await loadStrings();
  if (turn !== mine) return;
  const source = start(audio, strings.tone(audio.sampleRate, hz, true, HELD_SECONDS), TUNING_SECONDS);
  // Whole periods: where it goes round nothing is heard.
  source.loop = true;
  source.loopStart = ROUND_FROM;
  source.loopEnd = ROUND_FROM + Math.round(ROUND_SECONDS * hz) / hz;
  source.addEventListener('ended', ended);
}
