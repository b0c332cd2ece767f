import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import { useQuery, type UseQueryResult } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { NavLink, Outlet, useParams } from 'react-router';
import { useLive } from '../api/live';
import { classesQuery } from '../api/queries';
import { Failed, Loading } from './Message';

interface PageContentProps {
  /** What the part that scrolls is called, for those who do not see it. */
  name: string;
  bar?: ReactNode;
  children: ReactNode;
}

/** The content of a page: what to do above, the rest scrolls. */
export function PageContent({ name, bar, children }: PageContentProps) {
  return (
    <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column', minHeight: 0 }}>
      {bar && (
        <Box
          sx={{
            display: 'flex',
            flexWrap: 'wrap',
            alignItems: 'center',
            gap: 1,
            px: { xs: 1.5, sm: 2 },
            py: 1,
          }}
        >
          {bar}
        </Box>
      )}
      <Box
        tabIndex={0}
        role="region"
        aria-label={name}
        sx={{ flex: 1, minHeight: 0, overflow: 'auto', px: { xs: 1.5, sm: 2 }, pt: 1, pb: 2 }}
      >
        {children}
      </Box>
    </Box>
  );
}

/** The data of a query, or how it stands with it. */
export function Read<T>({
  query,
  what,
  children,
}: {
  query: UseQueryResult<T, unknown>;
  what: string;
  children: (data: T) => ReactNode;
}) {
  if (query.data !== undefined) return <>{children(query.data)}</>;
  if (query.error) return <Failed error={query.error} onRetry={() => void query.refetch()} />;
  return <Loading what={what} />;
}

/** A table on paper; rows are tall enough for a thumb. */
export const Table = styled('table')(({ theme }) => ({
  width: '100%',
  borderCollapse: 'collapse',
  background: theme.vars.palette.background.paper,
  border: `1px solid ${theme.vars.palette.divider}`,
  '& th, & td': {
    padding: theme.spacing(0.5, 1),
    textAlign: 'left',
    borderBottom: `1px solid ${theme.vars.palette.divider}`,
    height: 44,
  },
  '& th': {
    fontWeight: 700,
    position: 'sticky',
    top: 0,
    background: theme.vars.palette.background.paper,
    zIndex: 1,
  },
  '& .number': { textAlign: 'right', fontVariantNumeric: 'tabular-nums' },
  // What a phone has no room for; all of it is on the sheet that a row opens.
  [theme.breakpoints.down('sm')]: { '& .wide': { display: 'none' } },
  '& tr.quiet td': { color: theme.vars.palette.text.secondary },
}));

/** A file to keep or print. */
export function FileButton({ href, children }: { href: string; children: ReactNode }) {
  return (
    <Button component="a" href={href} download variant="outlined">
      {children}
    </Button>
  );
}

/** A caution that stands where it is needed. */
export const Callout = styled('p')(({ theme }) => ({
  margin: 0,
  padding: theme.spacing(1, 1.5),
  borderLeft: `4px solid ${theme.vars.palette.own.flag}`,
  background: theme.vars.palette.own.care,
  maxWidth: 720,
}));

/** A card of paper. */
export const Card = styled('section')(({ theme }) => ({
  background: theme.vars.palette.background.paper,
  border: `1px solid ${theme.vars.palette.divider}`,
  borderRadius: '6px 6px 18px 18px',
  padding: theme.spacing(2),
}));

const Step = styled(NavLink)(({ theme }) => ({
  flex: 'none',
  display: 'inline-flex',
  alignItems: 'center',
  minHeight: 44,
  padding: theme.spacing(0, 1.5),
  color: theme.vars.palette.text.primary,
  textDecoration: 'none',
  borderBottom: '3px solid transparent',
  '&:hover': { borderColor: theme.vars.palette.divider },
  '&.active': { borderColor: theme.vars.palette.own.glow, fontWeight: 700 },
}));

/** The class's name; other classes of the school are one tap away, on the same page. */
export function ClassName({ name, path }: { name: string; path: string }) {
  const { classId = '' } = useParams();
  const classes = useQuery(classesQuery);
  const here = classes.data?.find(({ id }) => id === classId);
  const others = classes.data?.filter(({ id }) => id !== classId) ?? [];
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'baseline', columnGap: 2 }}>
      <Typography variant="h1">{here?.name ?? name}</Typography>
      {others.map((other) => (
        <Step key={other.id} to={`/class/${other.id}/${path}`}>
          {other.name}
        </Step>
      ))}
    </Box>
  );
}

interface StepsProps {
  /** What the page is called. */
  name: string;
  /** Its part of the address: `set-up`. */
  path: string;
  /** The parts of the page, the first one first: address and name. */
  steps: readonly (readonly [path: string, name: string])[];
}

/** A page of a class with its parts side by side; other classes are one tap away. */
export function PageWithParts({ name, path, steps }: StepsProps) {
  const { classId = '' } = useParams();
  useLive(classId);
  return (
    <Box sx={{ height: '100%', display: 'flex', flexDirection: 'column', minHeight: 0 }}>
      <Box
        component="header"
        sx={{ px: { xs: 1.5, sm: 2 }, pt: 1.5, borderBottom: 1, borderColor: 'divider' }}
      >
        <ClassName name={name} path={`${path}/${steps[0]?.[0] ?? ''}`} />
        <Box component="nav" aria-label={name} sx={{ display: 'flex', overflowX: 'auto' }}>
          {steps.map(([step, stepName]) => (
            <Step key={step} to={`/class/${classId}/${path}/${step}`}>
              {stepName}
            </Step>
          ))}
        </Box>
      </Box>
      {/* Each class and step begins anew. */}
      <Box key={classId} sx={{ flex: 1, minHeight: 0 }}>
        <Outlet />
      </Box>
    </Box>
  );
}
