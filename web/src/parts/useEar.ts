import { useCallback, useEffect, useRef, useState } from 'react';
import listeningFile from '../core/listening.wasm?url';
import { loadStrings } from '../core/strings';
import earFile from '../core/worklet?worker&url';
import type { EarState, Hear, ListenFor, Moment, Over, RunSoFar } from '../core/hearing';
import { useSimulatedMicrophone } from './useSimulatedMicrophone';

/** Milliseconds without a pitch after which it stops listening. */
const MAX_QUIET = 60_000;
/** Sounds that are over and still shown. */
const MAX_OVER = 4;

/** Sound as it is: what makes a voice clear would spoil a pitch. */
const AS_IT_IS = { echoCancellation: false, noiseSuppression: false, autoGainControl: false };

const WHY: Record<string, EarState> = {
  NotAllowedError: 'refused',
  SecurityError: 'refused',
  NotFoundError: 'none',
  OverconstrainedError: 'none',
  NotReadableError: 'taken',
  AbortError: 'taken',
};

/** A microphone, or what stands in for it. */
interface Source {
  /** What was opened; nothing for a stand-in. */
  stream: MediaStream | undefined;
  nodeIn: (context: AudioContext) => AudioNode;
}

interface Open {
  stream: MediaStream | undefined;
  context: AudioContext;
}

/** What was heard since it was turned on. */
interface Heard {
  moment: Moment | undefined;
  /** Sounds that are over, the latest last. */
  over: Over[];
  run: RunSoFar | undefined;
}

const NOTHING: Heard = { moment: undefined, over: [], run: undefined };

/** The device's microphone for as long as the page listens. What it hears becomes numbers in this page; nothing is stored or sent. */
export function useEar() {
  const simulated = useSimulatedMicrophone();
  const [state, setState] = useState<EarState>('off');
  const [heard, setHeard] = useState(NOTHING);
  const open = useRef<Open>(undefined);
  // Another number for each time that it was turned on: what comes late is of an earlier one.
  const turn = useRef(0);

  /** Closes everything but the microphone itself, which is handed back. */
  const close = useCallback((to: EarState): MediaStream | undefined => {
    turn.current += 1;
    const stream = open.current?.stream;
    void open.current?.context.close();
    open.current = undefined;
    setHeard(NOTHING);
    setState(to);
    return stream;
  }, []);
  const turnOff = useCallback(
    (to: EarState = 'off') =>
      close(to)
        ?.getTracks()
        .forEach((track) => track.stop()),
    [close],
  );
  useEffect(() => () => turnOff(), [turnOff]);

  const turnOn = useCallback(
    async (what: ListenFor) => {
      // Something else is listened for: the microphone that is open is not asked for again.
      const known = close('asked');
      const mine = turn.current;
      try {
        const { stream, nodeIn } = await (simulated ? standIn(what) : microphone(known));
        const context = new AudioContext();
        if (turn.current !== mine) {
          stream?.getTracks().forEach((track) => track.stop());
          void context.close();
          return;
        }
        open.current = { stream, context };
        const ear = await earIn(context, what);
        if (turn.current !== mine) return;
        let lastPitch = performance.now();
        ear.port.onmessage = ({ data: { moment, over, run } }: MessageEvent<Hear>) => {
          if (turn.current !== mine) return;
          if (moment && moment.hz > 0) lastPitch = performance.now();
          if (performance.now() - lastPitch > MAX_QUIET) turnOff('quiet');
          else
            setHeard((before) => ({
              moment,
              over: over.length > 0 ? [...before.over, ...over].slice(-MAX_OVER) : before.over,
              run,
            }));
        };
        if (stream)
          watch(stream, (now) => {
            if (turn.current !== mine) return;
            if (now === 'unplugged') turnOff(now);
            else setState(now);
          });
        nodeIn(context).connect(ear);
        void context.resume();
        setState('live');
      } catch (error) {
        if (turn.current === mine) turnOff((error instanceof DOMException && WHY[error.name]) || 'unable');
      }
    },
    [close, turnOff, simulated],
  );
  return { state, ...heard, simulated, turnOn, turnOff };
}

async function microphone(known: MediaStream | undefined): Promise<Source> {
  if (!('mediaDevices' in navigator)) throw new DOMException('', 'NotFoundError');
  const stream = known?.active
    ? known
    : await navigator.mediaDevices.getUserMedia({ audio: AS_IT_IS, video: false });
  return { stream, nodeIn: (context) => context.createMediaStreamSource(stream) };
}

/** A simulated beginner's instrument that plays what is listened for, again and again. */
async function standIn(what: ListenFor): Promise<Source> {
  const strings = await loadStrings();
  const nodeIn = (context: AudioContext) => {
    const samples = strings.standIn(context.sampleRate, what);
    const buffer = context.createBuffer(1, Math.max(1, samples.length), context.sampleRate);
    buffer.copyToChannel(samples, 0);
    const source = context.createBufferSource();
    source.buffer = buffer;
    source.loop = true;
    source.start();
    return source;
  };
  return { stream: undefined, nodeIn };
}

async function earIn(context: AudioContext, what: ListenFor): Promise<AudioWorkletNode> {
  const [program] = await Promise.all([
    WebAssembly.compileStreaming(fetch(listeningFile)),
    context.audioWorklet.addModule(earFile),
  ]);
  return new AudioWorkletNode(context, 'ear', {
    numberOfOutputs: 0,
    channelCount: 1,
    channelCountMode: 'explicit',
    processorOptions: { ...what, program },
  });
}

/** A microphone that is muted, heard again, or taken away. */
function watch(stream: MediaStream, tell: (now: 'muted' | 'live' | 'unplugged') => void): void {
  const [track] = stream.getAudioTracks();
  track?.addEventListener('mute', () => tell('muted'));
  track?.addEventListener('unmute', () => tell('live'));
  track?.addEventListener('ended', () => tell('unplugged'));
  if (track?.muted) queueMicrotask(() => tell('muted'));
}
