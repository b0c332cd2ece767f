/** How a tone sounds. */
export type Sound = 'plucked' | 'held';

/** Seconds that a tone sounds. */
const SECONDS: Record<Sound, number> = { plucked: 2.2, held: 3 };
/** Loudness of each partial of a held tone: bowed strings are rich, the lowest ones are best heard by their partials. */
const PARTIALS = [1, 0.6, 0.45, 0.3, 0.22, 0.15, 0.1, 0.07];
/** How much of a plucked string is left from one turn to the next, a little less for each semitone above the lowest. */
const STAYS = 0.996;

/** A plucked string, computed: noise that goes round in a loop one period long and loses its edge with every turn. */
export function plucked(hz: number, rate: number, seconds: number, noise: () => number): Float32Array {
  const period = rate / hz;
  const size = Math.max(2, Math.floor(period - 0.5));
  // The loop and its average are half a step late; the rest of the period is a fraction of a step.
  const part = period - 0.5 - size;
  const loop = Float32Array.from({ length: size + 2 }, () => noise() * 2 - 1);
  const out = new Float32Array(Math.floor(rate * seconds));
  let at = 0;
  let before = 0;
  const step = (index: number) => loop[((index % loop.length) + loop.length) % loop.length] ?? 0;
  for (let index = 0; index < out.length; index += 1) {
    const late = step(at - size) * (1 - part) + step(at - size - 1) * part;
    const next = STAYS * 0.5 * (late + before);
    before = late;
    loop[at % loop.length] = next;
    out[index] = next;
    at += 1;
  }
  return out;
}

let context: AudioContext | undefined;
let sounding: AudioScheduledSourceNode[] = [];

/** The tone that sounds now stops. */
export function hush(): void {
  for (const source of sounding) source.stop();
  sounding = [];
}

function swell(audio: AudioContext, seconds: number, loudness: number): GainNode {
  const gain = audio.createGain();
  const now = audio.currentTime;
  gain.gain.setValueAtTime(0, now);
  gain.gain.linearRampToValueAtTime(loudness, now + 0.03);
  gain.gain.setValueAtTime(loudness, now + seconds - 0.15);
  gain.gain.linearRampToValueAtTime(0, now + seconds);
  gain.connect(audio.destination);
  return gain;
}

/** Plays a tone through the device's speaker; the one before it stops. */
export function play(hz: number, sound: Sound): void {
  context ??= new AudioContext();
  const audio = context;
  void audio.resume();
  hush();
  const seconds = SECONDS[sound];
  if (sound === 'plucked') {
    const buffer = audio.createBuffer(1, Math.floor(audio.sampleRate * seconds), audio.sampleRate);
    buffer.copyToChannel(plucked(hz, audio.sampleRate, seconds, Math.random) as Float32Array<ArrayBuffer>, 0);
    const source = audio.createBufferSource();
    source.buffer = buffer;
    source.connect(swell(audio, seconds, 0.6));
    source.start();
    sounding = [source];
    return;
  }
  hold(audio, hz, seconds);
}

/** Seconds that a tone to tune by sounds: a peg takes its time. */
const TUNING_SECONDS = 40;

/** Sounds a tone long enough to tune by; `ended` is called when it has sounded out. The one before it stops. */
export function sound(hz: number, ended: () => void): void {
  context ??= new AudioContext();
  void context.resume();
  hush();
  hold(context, hz, TUNING_SECONDS)[0]?.addEventListener('ended', ended);
}

/** A held tone of all its partials. */
function hold(audio: AudioContext, hz: number, seconds: number): AudioScheduledSourceNode[] {
  const gain = swell(audio, seconds, 0.18);
  sounding = PARTIALS.map((loudness, index) => {
    const partial = audio.createOscillator();
    const part = audio.createGain();
    partial.frequency.value = hz * (index + 1);
    part.gain.value = loudness;
    partial.connect(part);
    part.connect(gain);
    partial.start();
    partial.stop(audio.currentTime + seconds);
    return partial;
  });
  return sounding;
}
