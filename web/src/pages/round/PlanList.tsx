import Stack from '@mui/material/Stack';
import Button from '@mui/material/Button';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { RoundChild, RoundKit } from '../../api/client';
import { Toggle } from '../../parts/Toggle';
import { Card } from '../../parts/page';
import { whyWords } from '../../words/next';
import { visitWords } from '../../words/room';
import { count } from '../../words/text';
import { childOf, type RoundPlan } from './walk';

type Reason = RoundPlan['notReached'][number]['reason'];

/** Why a child comes today, beside what is to be looked at. */
function whyChild(child: RoundChild, { mustSeeAfterMeetings }: RoundKit): string {
  const hurts = child.pain ? 'said that it hurts; ' : '';
  const first = child.meetingsUnseen >= mustSeeAfterMeetings ? ', so comes first' : '';
  return `${hurts}${visitWords(child)}${first}`;
}

function whyNot(reason: Reason, child: RoundChild): string {
  const seconds = child.checks[0]?.seconds ?? 0;
  switch (reason) {
    case 'absent':
      return 'absent';
    case 'nothingToLookAt':
      return 'nothing in work or due';
    case 'longerThanTheRound':
      return `needs ${seconds} s and the walk, longer than the round`;
    case 'noTime':
      return `${count(child.checks.length, 'look')} on the list; the minutes do more for others`;
  }
}

interface Props {
  kit: RoundKit;
  plan: RoundPlan;
  pins: ReadonlySet<string>;
  onPin: (key: string) => void;
}

/** The plan in words: why this child, why this look, why not that one. */
export function PlanList({ kit, plan, pins, onPin }: Props) {
  const [open, setOpen] = useState<string>();
  return (
    <Card aria-label="The plan" sx={{ p: 0 }}>
      <Box component="ol" aria-label="Stops" sx={{ m: 0, p: 0, listStyle: 'none' }}>
        {plan.stops.map((stop, index) => {
          const child = childOf(kit, stop.child);
          if (!child) return null;
          const others = child.checks.filter(({ target }) => !stop.checks.includes(target));
          return (
            <Box
              component="li"
              key={stop.child}
              sx={{ px: 1.5, py: 1, borderTop: index === 0 ? 0 : 1, borderColor: 'divider' }}
            >
              <Stack direction="row" spacing={1} sx={{ alignItems: 'baseline' }}>
                <strong>{index + 1}</strong>
                <Box sx={{ flex: 1 }}>
                  <strong>{child.name}</strong> <span>{whyChild(child, kit)}</span>
                </Box>
                <span>{stop.seconds} s</span>
              </Stack>
              <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
                {stop.checks.map((target) => {
                  const check = child.checks.find((one) => one.target === target);
                  return (
                    <li key={target}>
                      {check?.name}: {check && whyWords(check).toLowerCase()}
                    </li>
                  );
                })}
              </Box>
              {others.length > 0 && (
                <Button
                  variant="pill"
                  sx={{ border: 0, px: 0.5, textDecoration: 'underline' }}
                  aria-expanded={open === stop.child}
                  onClick={() => setOpen(open === stop.child ? undefined : stop.child)}
                >
                  {others.length} more on the list: next time
                </Button>
              )}
              {open === stop.child && (
                <Box sx={{ display: 'grid', gap: 0.5 }}>
                  {others.map((check) => {
                    const key = `${child.id} ${check.target}`;
                    return (
                      <Stack direction="row" spacing={1} key={check.target} sx={{ alignItems: 'center' }}>
                        <Toggle on={pins.has(key)} onClick={() => onPin(key)}>
                          Pin
                        </Toggle>
                        <Box sx={{ flex: 1 }}>
                          {child.checks.indexOf(check) + 1}. {check.name}: {whyWords(check).toLowerCase()},{' '}
                          {check.seconds} s
                        </Box>
                      </Stack>
                    );
                  })}
                </Box>
              )}
            </Box>
          );
        })}
      </Box>
      {plan.notReached.length > 0 && (
        <Box component="details" sx={{ borderTop: 1, borderColor: 'divider', px: 1.5, py: 0.5 }}>
          <Typography component="summary" sx={{ minHeight: 44, py: 1, cursor: 'pointer' }}>
            Not this time: {plan.notReached.length}
          </Typography>
          <Box component="ul" sx={{ m: 0, pl: 2.5, pb: 1 }}>
            {plan.notReached.map(({ child: id, reason }) => {
              const child = childOf(kit, id);
              return child ? (
                <li key={id}>
                  <strong>{child.name}</strong> {whyNot(reason, child)}
                </li>
              ) : null;
            })}
          </Box>
        </Box>
      )}
    </Card>
  );
}
