import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { soundClock, wakeSound } from './clock';
import { Metronome, type Heard } from './metronome';
import {
  partAt,
  programOf,
  samePlace,
  syllables,
  withinTempo,
  wordOn,
  type Drill,
  type Level,
  type Program,
} from './program';

/** How often the page looks where the beat is, in milliseconds. */
const LOOK = 40;
/** Taps further apart than this are no tempo, in milliseconds. */
const LONGEST_TAP = 2000;
/** A tempo is the middle of so many taps. */
const TAPS = 4;

export type Sounds = 'click' | 'words' | 'silent';

export interface Conductor {
  program: Program;
  level: Level | undefined;
  tempo: number;
  beat: number;
  running: boolean;
  over: boolean;
  start: () => void;
  pause: () => void;
  again: () => void;
  nextRound: () => void;
  next: () => void;
  previous: () => void;
  setTempo: (tempo: number) => void;
  tap: () => void;
  setLevel: (level: Level) => void;
}

function heardOf(drill: Drill, program: Program, soundsNow: () => Sounds): Heard {
  return (beat) => {
    const sounds = soundsNow();
    if (sounds === 'silent') return undefined;
    const segment = program.segments[partAt(program, beat)];
    if (!segment) return undefined;
    const inside = beat - segment.firstBeat;
    const say = segment.step === undefined ? [] : (drill.steps[segment.step]?.say ?? []);
    const word = sounds === 'words' ? say[wordOn(say, inside)] : undefined;
    return { kind: inside === 0 ? 'loud' : 'plain', parts: word === undefined ? 1 : syllables(word).length };
  };
}

/** Runs a drill: where it is, and what moves it. */
export function useConductor(drill: Drill, sounds: Sounds): Conductor {
  const [level, setLevelTo] = useState<Level | undefined>(drill.levels?.[0]);
  const [tempo, setTempoTo] = useState(drill.tempo);
  const [beat, setBeat] = useState(0);
  const [running, setRunning] = useState(false);
  const program = useMemo(() => programOf(drill, level, tempo), [drill, level, tempo]);
  const soundsNow = useRef(sounds);
  useEffect(() => {
    soundsNow.current = sounds;
  }, [sounds]);
  const metronome = useRef<Metronome>(undefined);
  const taps = useRef<number[]>([]);
  const over = beat >= program.beats;

  const halt = useCallback(() => {
    metronome.current?.stop();
    metronome.current = undefined;
    setRunning(false);
  }, []);
  useEffect(() => halt, [halt]);

  useEffect(() => {
    if (!running) return;
    const look = () => {
      const going = metronome.current;
      if (!going) return;
      going.plan();
      const now = going.beat();
      setBeat(now);
      if (now >= program.beats) halt();
    };
    look();
    const timer = window.setInterval(look, LOOK);
    return () => window.clearInterval(timer);
  }, [running, program, halt]);

  const run = (from: number, played = program, at = tempo) => {
    metronome.current?.stop();
    const heard = heardOf(drill, played, () => soundsNow.current);
    metronome.current = new Metronome(soundClock(), at, from, played.beats, heard);
    setBeat(from);
    setRunning(true);
  };
  /** To another beat, running or not as before. */
  const goTo = (to: number) => {
    if (running) run(to);
    else setBeat(to);
  };
  const segment = partAt(program, beat);
  const firstBeat = (index: number) => program.segments[index]?.firstBeat;
  /** Another program from the same place on. */
  const change = (nextLevel: Level | undefined, nextTempo: number) => {
    const other = programOf(drill, nextLevel, nextTempo);
    const place = samePlace(program, beat, other);
    if (running) run(place, other, nextTempo);
    else setBeat(place);
  };
  const setTempo = (wanted: number) => {
    const next = withinTempo(wanted);
    if (next === tempo) return;
    const other = programOf(drill, level, next);
    // Where the rests stay as they are the beat goes on without a break.
    if (running && metronome.current && JSON.stringify(other.segments) === JSON.stringify(program.segments)) {
      metronome.current.setTempo(next);
    } else change(level, next);
    setTempoTo(next);
  };

  return {
    program,
    level,
    tempo,
    beat,
    running,
    over,
    start: () => {
      wakeSound();
      run(over ? 0 : beat);
    },
    pause: halt,
    again: () => goTo(0),
    nextRound: () => {
      const round = program.segments[segment]?.round ?? 1;
      const next = program.segments.find((one) => one.kind === 'step' && one.round > round);
      goTo(next?.firstBeat ?? program.beats);
    },
    next: () => goTo(firstBeat(segment + 1) ?? program.beats),
    previous: () => goTo(firstBeat(over ? segment : Math.max(0, segment - 1)) ?? 0),
    setTempo,
    tap: () => {
      const now = performance.now();
      const before = taps.current.at(-1);
      taps.current = before !== undefined && now - before > LONGEST_TAP ? [now] : [...taps.current, now];
      taps.current = taps.current.slice(-TAPS - 1);
      const gaps = taps.current.slice(1).map((at, index) => at - (taps.current[index] ?? at));
      const middle = gaps.sort((a, b) => a - b)[Math.floor(gaps.length / 2)];
      if (middle !== undefined && middle > 0) setTempo(60_000 / middle);
    },
    setLevel: (wanted) => {
      if (wanted === level || !drill.levels?.includes(wanted)) return;
      change(wanted, tempo);
      setLevelTo(wanted);
    },
  };
}
