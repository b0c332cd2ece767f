import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { styled } from '@mui/material/styles';
import type { UseQueryResult } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Failed, Loading } from '../../parts/Message';

/** A step's sheet: what to do above, the rest scrolls. */
export function Sheet({ bar, children }: { bar?: ReactNode; children: ReactNode }) {
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
        aria-label="Sheet"
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
  query: UseQueryResult<T>;
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
export const Care = styled('p')(({ theme }) => ({
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
