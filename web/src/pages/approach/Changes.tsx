import Box from '@mui/material/Box';
import { styled } from '@mui/material/styles';
import type { Change, Instrument } from '../../api/client';
import { INSTRUMENTS } from '../../words/looks';
import { askedWords } from '../../words/reasons';

const Line = styled('li')(({ theme }) => ({
  listStyle: 'none',
  padding: theme.spacing(0.75, 0),
  borderTop: `1px solid ${theme.vars.palette.divider}`,
  lineHeight: 1.35,
  '& .before': { color: theme.vars.palette.text.secondary },
}));

/** `violin and viola`; nothing where it is about all four. */
export function onWords(instruments: Instrument[]): string {
  if (instruments.length === INSTRUMENTS.length) return '';
  return instruments.join(' and ');
}

/** What would read otherwise, before it is kept. */
export function Changes({ changes }: { changes: Change[] }) {
  return (
    <Box component="ul" aria-label="What changes" sx={{ m: 0, p: 0 }}>
      {changes
        .map((change) => ({ ...change, before: askedWords(change.before), after: askedWords(change.after) }))
        .map((change) => (
          <Line key={`${change.target} ${change.instruments.join()} ${change.after}`}>
            <strong>{change.name}</strong>
            {onWords(change.instruments) && `, ${onWords(change.instruments)}`}
            <br />
            {change.before && (
              <>
                <span className="before">Now:</span> {change.before}
                <br />
              </>
            )}
            <span className="before">Then:</span> {change.after || 'not asked for; its observations are kept'}
          </Line>
        ))}
    </Box>
  );
}
