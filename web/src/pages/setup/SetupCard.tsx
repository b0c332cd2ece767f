import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { FitChild, Schemas } from '../../api/client';
import type { Answer } from '../../core/door';
import { Card } from '../../parts/page';
import { length, type Unit } from '../../parts/units';

/** First numbers for the body set-up. */
export function SetupCard({
  child,
  numbers: card,
  unit,
  ways,
}: {
  child: FitChild;
  numbers: Answer<'fit'>['numbers'];
  unit: Unit;
  /** What the class chose where teachers disagree about this instrument. */
  ways: Schemas['ChoiceView'][];
}) {
  const low = child.instrument === 'cello' || child.instrument === 'bass';
  const pin = {
    out:
      card.pinMm !== undefined
        ? `${length(card.pinMm, unit)} out, ± ${length(card.pinToleranceMm, unit)}`
        : '',
    allTheWayIn: 'all the way in',
    smallerSize: 'even all the way in it is too long: a size smaller, if there is one',
    largerSize: 'longer than any pin: a size larger, if there is one; otherwise the reference points decide',
  };
  const lines: [string, string][] = [
    ...(card.seatMm !== undefined
      ? ([
          [
            'Seat',
            `${length(card.seatMm, unit)}, ± ${length(card.seatToleranceMm, unit)}${card.seatFromHeight ? ', a quarter of the height until the knee is measured' : ''}`,
          ],
        ] as [string, string][])
      : []),
    ...(low && card.pin
      ? ([
          [
            'Pin',
            `${pin[card.pin]}${card.pinFromHeight ? ', estimated from the height' : ''}${card.pinFirstTry ? ': a first try, then the reference points' : ''}`,
          ],
        ] as [string, string][])
      : []),
    ...ways
      .filter(({ key }) => key === 'support')
      .map(({ options, chosen }): [string, string] => [
        'Support',
        options.find(({ id }) => id === chosen)?.name.toLowerCase() ?? '',
      ]),
    [
      'Stand',
      `the middle of the desk at eye level, ${child.instrument === 'bass' ? 'standing' : 'seated'}, looking straight ahead`,
    ],
  ];
  return (
    <Card aria-label="Set-up card">
      <Typography variant="h3" component="h3">
        First numbers for the set-up
      </Typography>
      <Box
        component="dl"
        sx={{ display: 'grid', gridTemplateColumns: 'auto 1fr', gap: 0.75, columnGap: 2, m: 0, mt: 1 }}
      >
        {lines.map(([name, text]) => (
          <Box key={name} sx={{ display: 'contents' }}>
            <Box component="dt" sx={{ fontWeight: 600 }}>
              {name}
            </Box>
            <Box component="dd" sx={{ m: 0 }}>
              {text}
            </Box>
          </Box>
        ))}
      </Box>
      {child.instrument === 'cello' && (
        <Typography sx={{ mt: 1 }}>
          Three looks decide: standing, the scroll just under the nose; seated, the body’s lower left corner
          about {length(75, unit)} above the left knee; the neck clear of the ear.
        </Typography>
      )}
      {child.instrument === 'bass' && (
        <Typography sx={{ mt: 1 }}>
          The nut comes between eyes and hairline; at the eyebrow a beginner’s back stays straight.
        </Typography>
      )}
      <Typography sx={{ mt: 1 }}>
        Thick jackets, straps and necklaces off first. The neck is glued on: nobody pulls it or leans on it.
        {child.instrument === 'cello' && ' The pin is lengthened with the cello across the knees.'}
        {child.instrument === 'bass' && ' The pin is lengthened with the bass lying down.'}
      </Typography>
      {low && (
        <Typography sx={{ mt: 1 }}>
          {child.instrument === 'bass'
            ? 'A bass can fall and its pin is sharp: keep a hand near it.'
            : 'A pin is sharp and slips: anchor it with a stop or a strap.'}
        </Typography>
      )}
    </Card>
  );
}
