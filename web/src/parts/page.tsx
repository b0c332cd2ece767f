import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import { useQuery, type UseQueryResult } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link, NavLink, Outlet, useLocation, useParams } from 'react-router';
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
    <Stack sx={{ height: '100%', minHeight: 0 }}>
      {bar && (
        <Stack
          direction="row"
          spacing={1}
          sx={{ flexWrap: 'wrap', alignItems: 'center', px: { xs: 1.5, sm: 2 }, py: 1 }}
        >
          {bar}
        </Stack>
      )}
      <Box
        tabIndex={0}
        role="region"
        aria-label={name}
        sx={{ flex: 1, minHeight: 0, overflow: 'auto', px: { xs: 1.5, sm: 2 }, pt: 1, pb: 2 }}
      >
        {children}
      </Box>
    </Stack>
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

/** The class's name; other classes of the school are one tap away, on the same page. */
export function ClassName({ name, path }: { name: string; path: string }) {
  const { classId = '' } = useParams();
  const classes = useQuery(classesQuery);
  const here = classes.data?.find(({ id }) => id === classId);
  const others = classes.data?.filter(({ id }) => id !== classId) ?? [];
  return (
    <Stack direction="row" sx={{ flexWrap: 'wrap', alignItems: 'baseline', columnGap: 2 }}>
      <Typography variant="h1">{here?.name ?? name}</Typography>
      {others.map((other) => (
        <Button key={other.id} component={Link} to={`/class/${other.id}/${path}`}>
          {other.name}
        </Button>
      ))}
    </Stack>
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

/** The parts of a page as links: tabs to look at, and a list of pages to go to for those who hear it. */
export function Parts({ name, base, steps }: Pick<StepsProps, 'name' | 'steps'> & { base: string }) {
  const { pathname } = useLocation();
  const current = steps.find(([step]) => pathname.startsWith(`${base}/${step}`));
  return (
    <Tabs
      component="nav"
      value={current?.[0] ?? false}
      variant="scrollable"
      scrollButtons={false}
      slotProps={{ root: { 'aria-label': name }, list: { role: 'none' } }}
    >
      {steps.map(([step, label]) => (
        <Tab
          key={step}
          value={step}
          label={label}
          component={NavLink}
          to={`${base}/${step}`}
          role={undefined}
          aria-selected={undefined}
          tabIndex={0}
        />
      ))}
    </Tabs>
  );
}

/** A page of a class with its parts side by side; other classes are one tap away. */
export function PageWithParts({ name, path, steps }: StepsProps) {
  const { classId = '' } = useParams();
  useLive(classId);
  return (
    <Stack sx={{ height: '100%', minHeight: 0 }}>
      <Box
        component="header"
        sx={{ px: { xs: 1.5, sm: 2 }, pt: 1.5, borderBottom: 1, borderColor: 'divider' }}
      >
        <ClassName name={name} path={`${path}/${steps[0]?.[0] ?? ''}`} />
        <Parts name={name} base={`/class/${classId}/${path}`} steps={steps} />
      </Box>
      {/* Each class and step begins anew. */}
      <Box key={classId} sx={{ flex: 1, minHeight: 0 }}>
        <Outlet />
      </Box>
    </Stack>
  );
}
