import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import { styled, useColorScheme } from '@mui/material/styles';
import { Suspense, useState, type ReactNode } from 'react';
import { useQuery } from '@tanstack/react-query';
import { NavLink, useNavigate } from 'react-router';
import type { Session } from '../api/client';
import { classesQuery } from '../api/queries';
import { useKeys } from '../parts/keys';
import { lazyPart } from './newerBuild';
import { Notices } from './Notices';
import { keysHelp, moreMenu } from './soon';

const KeysHelp = lazyPart(async () => (await keysHelp()).KeysHelp);

const MoreMenu = lazyPart(async () => (await moreMenu()).MoreMenu);

export const RAIL = 92;

const Shell = styled('div')(({ theme }) => ({
  display: 'grid',
  gridTemplateColumns: `${RAIL}px minmax(0, 1fr)`,
  height: '100dvh',
  [theme.breakpoints.down('sm')]: {
    gridTemplateColumns: 'minmax(0, 1fr)',
    gridTemplateRows: 'minmax(0, 1fr) auto',
  },
}));

const Rail = styled('nav')(({ theme }) => ({
  display: 'flex',
  flexDirection: 'column',
  alignItems: 'stretch',
  gap: 4,
  padding: theme.spacing(2, 0.75),
  borderRight: `1px solid ${theme.vars.palette.divider}`,
  [theme.breakpoints.down('sm')]: {
    order: 2,
    flexDirection: 'row',
    alignItems: 'center',
    padding: theme.spacing(0.5, 1),
    borderRight: 'none',
    borderTop: `1px solid ${theme.vars.palette.divider}`,
    gap: 0,
    overflowX: 'auto',
  },
}));

const Brand = styled('div')(({ theme }) => ({
  fontFamily: theme.typography.h1.fontFamily,
  fontSize: '1.35rem',
  fontWeight: 800,
  lineHeight: 1,
  textAlign: 'center',
  marginBottom: theme.spacing(2),
  [theme.breakpoints.down('sm')]: { display: 'none' },
}));

const Item = styled(ButtonBase)(({ theme }) => ({
  minHeight: 44,
  padding: theme.spacing(0.5, 1),
  borderRadius: theme.shape.borderRadius,
  fontSize: '0.95rem',
  color: theme.vars.palette.text.primary,
  textAlign: 'center',
  whiteSpace: 'nowrap',
  [theme.breakpoints.down('sm')]: {
    flex: '1 1 auto',
    padding: theme.spacing(0.5, 0.25),
    fontSize: '0.92rem',
  },
  '&:hover': { background: theme.vars.palette.background.paper },
  '&.active': {
    background: theme.vars.palette.background.paper,
    fontWeight: 700,
    boxShadow: `inset 0 -3px ${theme.vars.palette.own.glow}`,
  },
})) as typeof ButtonBase;

const NOT_ON_PHONE = { display: { xs: 'none', sm: 'inline-flex' } };

/** Where the pages of somebody's school are; a substitute has none. */
function schoolOf({ programs }: Session): string | undefined {
  const program = programs.find(({ role }) => role !== 'substitute');
  return program && `/school/${program.id}`;
}

interface Props {
  /** The class that is open, or was open last, if there is one. */
  classId: string | undefined;
  session: Session;
  onSignOut: () => void;
  children: ReactNode;
}

/** The rail with the pages, beside the page that is open; at the bottom on a phone. */
export function AppShell({ classId, session, onSignOut, children }: Props) {
  const base = classId && `/class/${classId}`;
  const { mode, systemMode, setMode } = useColorScheme();
  // Nothing until somebody asked for it.
  const [help, setHelp] = useState<boolean>();
  // On a phone the bar has room for what is used while one walks.
  const [more, setMore] = useState<HTMLElement | null>();
  const navigate = useNavigate();
  useKeys({ '?': () => setHelp(true), ...(base && { r: () => void navigate(`${base}/round`) }) });
  const classes = useQuery(classesQuery);
  const looksBack = classes.data?.find(({ id }) => id === classId)?.looksBack ?? true;
  const school = schoolOf(session);
  const dark = (mode === 'system' ? systemMode : mode) === 'dark';
  const otherMode = dark ? 'Light theme' : 'Dark theme';
  const changeMode = () => setMode(dark ? 'light' : 'dark');
  return (
    <Shell>
      <Rail aria-label="Pages">
        <Brand>
          Bright
          <br />
          Row
        </Brand>
        {base && (
          <>
            <Item component={NavLink} to={`${base}/room`}>
              Room
            </Item>
            <Item component={NavLink} to={`${base}/round`} aria-keyshortcuts="r">
              Round
            </Item>
            {looksBack && (
              <Item component={NavLink} to={`${base}/set-up`}>
                Set-up
              </Item>
            )}
            <Item component={NavLink} to={`${base}/tapes`}>
              Tapes
            </Item>
            <Item component={NavLink} to={`${base}/lessons`}>
              Lessons
            </Item>
            {looksBack && (
              <Item component={NavLink} to={`${base}/home`} sx={NOT_ON_PHONE}>
                Home
              </Item>
            )}
            {looksBack && (
              <Item component={NavLink} to={`${base}/term`} sx={NOT_ON_PHONE}>
                Term
              </Item>
            )}
            {looksBack && (
              <Item component={NavLink} to={`${base}/approach`} sx={NOT_ON_PHONE}>
                Approach
              </Item>
            )}
          </>
        )}
        <Box sx={{ flex: { xs: 'none', sm: 1 } }} />
        {school && (
          <Item component={NavLink} to={school} sx={NOT_ON_PHONE}>
            School
          </Item>
        )}
        {session.email !== '' && (
          <Item component={NavLink} to="/account" sx={NOT_ON_PHONE}>
            Account
          </Item>
        )}
        {/* A phone has no keys. */}
        <Item onClick={() => setHelp(true)} aria-keyshortcuts="?" sx={NOT_ON_PHONE}>
          Keys&nbsp;?
        </Item>
        <Item onClick={changeMode} sx={NOT_ON_PHONE}>
          {otherMode}
        </Item>
        <Item onClick={onSignOut} sx={NOT_ON_PHONE}>
          Sign out
        </Item>
        <Item
          aria-haspopup="menu"
          onClick={(event) => setMore(event.currentTarget)}
          sx={{ display: { sm: 'none' } }}
        >
          More
        </Item>
      </Rail>
      <Stack component="main" sx={{ minWidth: 0, minHeight: 0, position: 'relative' }}>
        <Notices />
        <Box sx={{ flex: 1, minHeight: 0 }}>{children}</Box>
      </Stack>
      {more !== undefined && (
        <Suspense>
          <MoreMenu
            anchor={more}
            base={looksBack ? base : undefined}
            school={school}
            account={session.email !== ''}
            theme={otherMode}
            onTheme={changeMode}
            onSignOut={onSignOut}
            onClose={() => setMore(null)}
          />
        </Suspense>
      )}
      {help !== undefined && (
        <Suspense>
          <KeysHelp open={help} onClose={() => setHelp(false)} />
        </Suspense>
      )}
    </Shell>
  );
}
