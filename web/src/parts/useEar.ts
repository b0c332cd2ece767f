import { useCallback, useEffect, useRef, useState } from 'react';
import listeningFile from '../core/listening.wasm?url';
import earFile from '../core/worklet?worker&url';
import type { EarState, ListenFor, Moment } from '../core/hearing';

/** Milliseconds without a pitch after which it stops listening. */
const MAX_QUIET = 60_000;

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

interface Open {
  stream: MediaStream;
  context: AudioContext;
}

/** The device's microphone for as long as the page listens. What it hears becomes numbers in this page; nothing is stored or sent. */
export function useEar() {
  const [state, setState] = useState<EarState>('off');
  const [moment, setMoment] = useState<Moment>();
  const open = useRef<Open>(undefined);
  // Another number for each time that it was turned on: what comes late is of an earlier one.
  const turn = useRef(0);

  const turnOff = useCallback((to: EarState = 'off') => {
    turn.current += 1;
    open.current?.stream.getTracks().forEach((track) => track.stop());
    void open.current?.context.close();
    open.current = undefined;
    setMoment(undefined);
    setState(to);
  }, []);
  useEffect(() => () => turnOff(), [turnOff]);

  const turnOn = useCallback(
    async (what: ListenFor) => {
      turnOff('asked');
      const mine = turn.current;
      try {
        if (!('mediaDevices' in navigator)) throw new DOMException('', 'NotFoundError');
        const stream = await navigator.mediaDevices.getUserMedia({ audio: AS_IT_IS, video: false });
        const context = new AudioContext();
        if (turn.current !== mine) {
          stream.getTracks().forEach((track) => track.stop());
          void context.close();
          return;
        }
        open.current = { stream, context };
        const ear = await earIn(context, what);
        if (turn.current !== mine) return;
        let lastPitch = performance.now();
        ear.port.onmessage = ({ data }: MessageEvent<Moment>) => {
          if (turn.current !== mine) return;
          if (data.hz > 0) lastPitch = performance.now();
          if (performance.now() - lastPitch > MAX_QUIET) turnOff('quiet');
          else setMoment(data);
        };
        watch(stream, (now) => {
          if (turn.current !== mine) return;
          if (now === 'unplugged') turnOff(now);
          else setState(now);
        });
        context.createMediaStreamSource(stream).connect(ear);
        void context.resume();
        setState('live');
      } catch (error) {
        if (turn.current === mine) turnOff((error instanceof DOMException && WHY[error.name]) || 'unable');
      }
    },
    [turnOff],
  );
  return { state, moment, turnOn, turnOff };
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
