import { useCallback, useEffect, useRef, useState, type RefObject } from 'react';

/** Pictures a second that are held for looking once more. */
const RATE = 12;
/** So many of them: five seconds. */
const HELD = 5 * RATE;
/** Once more is so much slower. */
const SLOWER = 2;
/** Wide enough to see a finger. */
const WIDE = 480;

export type CameraState = 'off' | 'asked' | 'live' | 'again' | 'refused' | 'none';

interface Camera {
  /** Where the camera is seen. */
  video: RefObject<HTMLVideoElement | null>;
  /** Where the last seconds are seen again. */
  canvas: RefObject<HTMLCanvasElement | null>;
  state: CameraState;
  turnOn: () => void;
  turnOff: () => void;
  /** Shows the last seconds again, slowly. */
  again: () => void;
}

/**
 * The device's camera for as long as the page looks at it. The last five seconds stay in memory and nowhere else: nothing is stored,
 * nothing is sent, and all of it is gone when the camera goes off.
 */
export function useCamera(): Camera {
  const video = useRef<HTMLVideoElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [state, setState] = useState<CameraState>('off');
  const stream = useRef<MediaStream>(undefined);
  const frames = useRef<ImageBitmap[]>([]);

  const turnOff = useCallback(() => {
    stream.current?.getTracks().forEach((track) => track.stop());
    stream.current = undefined;
    frames.current.forEach((frame) => frame.close());
    frames.current = [];
    setState('off');
  }, []);
  useEffect(() => turnOff, [turnOff]);

  const turnOn = () => {
    if (!('mediaDevices' in navigator)) {
      setState('none');
      return;
    }
    setState('asked');
    navigator.mediaDevices
      .getUserMedia({ audio: false, video: { facingMode: 'user', width: { ideal: 1280 } } })
      .then((found) => {
        stream.current = found;
        setState('live');
      })
      .catch((error: unknown) => {
        const refused = error instanceof DOMException && error.name === 'NotAllowedError';
        setState(refused ? 'refused' : 'none');
      });
  };

  useEffect(() => {
    const element = video.current;
    if (state !== 'live' || !element || !stream.current) return;
    element.srcObject = stream.current;
    void element.play().catch(() => undefined);
    const timer = setInterval(() => {
      if (element.videoWidth === 0) return;
      const resizeHeight = Math.round((WIDE * element.videoHeight) / element.videoWidth);
      void createImageBitmap(element, { resizeWidth: WIDE, resizeHeight }).then((frame) => {
        if (!stream.current) frame.close();
        else frames.current.push(frame);
        while (frames.current.length > HELD) frames.current.shift()?.close();
      });
    }, 1_000 / RATE);
    return () => clearInterval(timer);
  }, [state]);

  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (state !== 'again' || !context) return;
    let next = 0;
    const timer = setInterval(
      () => {
        const frame = frames.current[next];
        next += 1;
        if (!frame) setState('live');
        else {
          context.canvas.width = frame.width;
          context.canvas.height = frame.height;
          context.drawImage(frame, 0, 0);
        }
      },
      (1_000 * SLOWER) / RATE,
    );
    return () => clearInterval(timer);
  }, [state]);

  return { video, canvas, state, turnOn, turnOff, again: () => setState('again') };
}
