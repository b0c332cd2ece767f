import { useCallback, useEffect, useRef } from 'react';
import { useNavigate } from 'react-router';
import type { LeadSignal } from '../../api/live';
import type { Conductor } from './conductor';
import type { Drill } from './program';
import { useSignals } from './signals';

/** A drill on the projector does what the phone says, and says how it stands whenever that changes. */
export function useObeys(classId: string, drill: Drill, conductor: Conductor, mirror: () => void): void {
  const navigate = useNavigate();
  const now = useRef({ conductor, mirror });
  useEffect(() => {
    now.current = { conductor, mirror };
  });
  const report = useRef<() => void>(() => undefined);
  const hear = useCallback(
    ({ action, drill: wanted, tempo, level }: LeadSignal) => {
      const { conductor: leads, mirror: turn } = now.current;
      const does: Partial<Record<LeadSignal['action'], () => void>> = {
        open: () => {
          if (wanted && wanted !== drill.id) void navigate(`/class/${classId}/lead/${wanted}`);
          else report.current();
        },
        start: leads.start,
        pause: leads.pause,
        again: leads.again,
        round: leads.nextRound,
        next: leads.next,
        previous: leads.previous,
        tempo: () => {
          if (tempo !== undefined) leads.setTempo(tempo);
        },
        level: () => {
          if (level) leads.setLevel(level);
        },
        mirror: turn,
        ask: report.current,
      };
      does[action]?.();
    },
    [classId, drill.id, navigate],
  );
  const say = useSignals(classId, hear);
  const { beat, running, tempo, level, program } = conductor;
  // Within a part the phone counts nothing: it needs to know only in which one this page is.
  const part = program.segments.findLast((segment) => segment.firstBeat <= beat)?.firstBeat ?? 0;
  const place = beat >= program.beats ? program.beats : part;
  useEffect(() => {
    report.current = () =>
      say({ action: 'state', drill: drill.id, beat: place, running, tempo, ...(level && { level }) });
    report.current();
  }, [say, drill.id, place, running, tempo, level]);
}
