import Stack from '@mui/material/Stack';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import type { SyntheticEvent, ReactNode } from 'react';

interface Props {
  title: string;
  /** Of a form that is a page, `h1`. */
  heading?: 'h1' | 'h2' | 'h3';
  lead?: ReactNode;
  error?: string | undefined;
  action: string;
  sending: boolean;
  /** A way back without sending. */
  back?: ReactNode;
  onSubmit: (event: SyntheticEvent) => void;
  children: ReactNode;
}

/** A form on a sheet of paper: title, fields, what went wrong, one action. */
export function Sheet({
  title,
  heading = 'h1',
  lead,
  error,
  action,
  sending,
  back,
  onSubmit,
  children,
}: Props) {
  return (
    <Box
      component="form"
      noValidate
      onSubmit={onSubmit}
      sx={{ display: 'grid', gap: 2, width: '100%', maxWidth: 460 }}
    >
      <Typography variant={heading}>{title}</Typography>
      {lead && <Typography sx={{ color: 'text.secondary' }}>{lead}</Typography>}
      {children}
      {error && <Alert severity="error">{error}</Alert>}
      <Stack direction="row" spacing={1}>
        <Button type="submit" variant="contained" size="large" loading={sending}>
          {action}
        </Button>
        {back}
      </Stack>
    </Box>
  );
}
