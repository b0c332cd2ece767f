import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import { useTheme } from '@mui/material/styles';
import useMediaQuery from '@mui/material/useMediaQuery';
import { useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import type { RoundKit } from '../../api/client';
import { Toggle } from '../../parts/Toggle';
import { count } from '../../words/text';
import { PlanList } from './PlanList';
import type { Round } from './useRound';
import { useWish, type RoundWish } from './useWish';
import { minutesWords } from './walk';
import { Chairs, FromAfar, Minutes, UsualMinutes, What, Whom, WhomInOneLine } from './WishParts';

interface Props {
  kit: RoundKit;
  round: Round;
}

/** What the round is to be: minutes, whom, what; the plan follows at once. */
export function StartRound({ kit, round }: Props) {
  const wish = useWish(kit);
  const { breakpoints } = useTheme();
  const phone = useMediaQuery(breakpoints.down('sm'));
  const begin = (
    <Button
      variant="contained"
      size="large"
      disabled={wish.plan.stops.length === 0 && wish.scans.length === 0}
      sx={{ minHeight: 56, fontSize: '1.15rem' }}
      onClick={() => round.begin(wish.wish, wish.plan.stops, wish.absent)}
    >
      Walk the round
    </Button>
  );
  return phone ? <OnPhone wish={wish} begin={begin} /> : <SideBySide wish={wish} begin={begin} />;
}

interface LayoutProps {
  wish: RoundWish;
  /** The button that begins. */
  begin: ReactNode;
}

/** Wishes and plan side by side, everything in sight. */
function SideBySide({ wish, begin }: LayoutProps) {
  return (
    <Box
      sx={{
        display: 'grid',
        gap: 1.5,
        gridTemplateColumns: { xs: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) 400px' },
      }}
    >
      <Box sx={{ display: 'grid', gap: 1.5, alignContent: 'start' }}>
        <Line name="Minutes for looking">
          <Minutes wish={wish} />
          <UsualMinutes wish={wish} />
          <Box sx={{ flex: 1 }} />
          <OtherWays />
        </Line>
        <Whom wish={wish} />
        <What wish={wish} />
        <Chairs wish={wish} />
        <FromAfar wish={wish} />
      </Box>
      <Box sx={{ display: 'grid', gap: 1.5, alignContent: 'start' }}>
        <Summary wish={wish} />
        {begin}
        <PlanList kit={wish.kit} plan={wish.plan} pins={wish.pins} onPin={wish.pin} />
      </Box>
    </Box>
  );
}

/** Minutes and part in one line, then the plan; the rest behind one tap, the beginning under the thumb. */
function OnPhone({ wish, begin }: LayoutProps) {
  const [changing, setChanging] = useState(false);
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr)', gap: 1.25 }}>
      <Stack
        direction="row"
        spacing={0.5}
        role="group"
        aria-label="Minutes and whom"
        sx={{ alignItems: 'center' }}
      >
        <Minutes wish={wish} />
        <WhomInOneLine wish={wish} />
        <Toggle on={changing} aria-expanded={changing} onClick={() => setChanging(!changing)}>
          Change
        </Toggle>
      </Stack>
      {changing && (
        <>
          <Line name="Minutes for looking">
            <UsualMinutes wish={wish} />
            <Box sx={{ flex: 1 }} />
            <OtherWays />
          </Line>
          <What wish={wish} />
          <Chairs wish={wish} />
          <FromAfar wish={wish} />
        </>
      )}
      <Summary wish={wish} />
      <PlanList kit={wish.kit} plan={wish.plan} pins={wish.pins} onPin={wish.pin} />
      <Box
        sx={{
          position: 'sticky',
          bottom: -16,
          mx: -1.5,
          mb: -2,
          px: 1.5,
          py: 1,
          display: 'grid',
          bgcolor: 'background.default',
          borderTop: 1,
          borderColor: 'divider',
        }}
      >
        {begin}
      </Box>
    </Box>
  );
}

function Line({ name, children }: { name: string; children: ReactNode }) {
  return (
    <Stack
      direction="row"
      spacing={0.75}
      role="group"
      aria-label={name}
      sx={{ flexWrap: 'wrap', alignItems: 'center' }}
    >
      {children}
    </Stack>
  );
}

function OtherWays() {
  return (
    <>
      <Button component={Link} to="../lessons/tuning" relative="path">
        Tune first
      </Button>
      <Button component={Link} to="term">
        The term ahead
      </Button>
    </>
  );
}

function Summary({ wish: { kit, plan, scans } }: { wish: RoundWish }) {
  const looks = plan.stops.reduce((sum, stop) => sum + stop.checks.length, 0);
  const scanned = scans.reduce((sum, { seconds }) => sum + seconds, 0);
  const missed = plan.mustSeeMissed.length;
  return (
    <Box role="status">
      <Typography variant="h2" sx={(theme) => ({ [theme.breakpoints.down('sm')]: { fontSize: '1.15rem' } })}>
        {count(plan.stops.length, 'child', 'children')}, {count(looks, 'look')},{' '}
        {minutesWords(plan.secondsUsed + scanned)}
      </Typography>
      <Typography>
        {missed === 0
          ? `Everybody not visited for ${kit.mustSeeAfterMeetings} meetings or more is in it.`
          : `${count(missed, 'child', 'children')} not visited for ${kit.mustSeeAfterMeetings} meetings or more ${missed === 1 ? 'does' : 'do'} not fit: give it more minutes.`}
      </Typography>
    </Box>
  );
}
