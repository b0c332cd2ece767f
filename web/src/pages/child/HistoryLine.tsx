import { styled } from '@mui/material/styles';
import type { ObservationView } from '../../api/client';
import { dayWords } from '../../words/dates';
import { STRANDS } from '../../words/looks';

const WIDTH = 350;
const LANE = 32;
const LEFT = 74;
const RIGHT = 10;
const STRAND_KEYS = ['hold', 'bow', 'frame', 'tape'] as const;

const Drawing = styled('svg')(({ theme }) => ({
  display: 'block',
  width: '100%',
  maxWidth: 460,
  height: 'auto',
  overflow: 'visible',
  '& text': { fontSize: 13, fill: theme.vars.palette.text.primary, fontFamily: theme.typography.fontFamily },
  '& .line': { stroke: theme.vars.palette.own.rest, strokeWidth: 1 },
  '& .observation': {
    fill: theme.vars.palette.own.glow,
    stroke: theme.vars.palette.own.glowEdge,
    strokeWidth: 0.8,
  },
  '& .holds': { fill: 'none', stroke: theme.vars.palette.own.glowEdge, strokeWidth: 1.6 },
  '& .flag': { fill: theme.vars.palette.own.flag },
}));

/** The observations of a child along the days, a lane for each strand: higher for a higher level, a lozenge for slip or pain. */
export function HistoryLine({ observations }: { observations: ObservationView[] }) {
  const back = new Set(observations.map(({ retracts }) => retracts));
  const seen = observations.filter(({ id, retracts }) => !retracts && !back.has(id));
  const times = seen.map(({ observedAt }) => Date.parse(observedAt));
  const [first, last] = [Math.min(...times), Math.max(...times)];
  if (seen.length < 2 || first === last) return null;
  const x = (moment: string) =>
    LEFT + ((Date.parse(moment) - first) / (last - first)) * (WIDTH - LEFT - RIGHT);
  const height = LANE * STRAND_KEYS.length + 18;
  const words = `The last ${seen.length} observations, from ${dayWords(new Date(first).toISOString())} to ${dayWords(new Date(last).toISOString())}; each stands in words in the history below.`;
  return (
    <Drawing viewBox={`0 0 ${WIDTH} ${height}`} role="img" aria-label={words}>
      {STRAND_KEYS.map((strand, lane) => {
        const foot = LANE * (lane + 1) - 4;
        return (
          <g key={strand}>
            <text x="0" y={foot}>
              {strand === 'frame' ? 'Left hand' : STRANDS[strand]}
            </text>
            <path className="line" d={`M${LEFT} ${foot}H${WIDTH - RIGHT}`} />
            {seen
              .filter(({ target }) => target.startsWith(`${strand}.`))
              .map((observation) => {
                const at = x(observation.observedAt);
                const level = observation.level ?? 3;
                const top = foot - 5 - level * 4;
                const middle = (foot + top) / 2;
                return (
                  <g key={observation.id}>
                    <path
                      className={observation.level == null ? 'holds' : 'observation'}
                      d={`M${at} ${foot}Q${at + 5} ${middle} ${at} ${top}Q${at - 5} ${middle} ${at} ${foot}Z`}
                    />
                    {(observation.slips.length > 0 || observation.says === 'hurts') && (
                      <path className="flag" d={`M${at} ${top - 7}l3 3.4-3 3.4-3-3.4Z`} />
                    )}
                  </g>
                );
              })}
          </g>
        );
      })}
      <text x={LEFT} y={height - 1}>
        {dayWords(new Date(first).toISOString())}
      </text>
      <text x={WIDTH - RIGHT} y={height - 1} textAnchor="end">
        {dayWords(new Date(last).toISOString())}
      </text>
    </Drawing>
  );
}
