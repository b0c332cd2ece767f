import Box from '@mui/material/Box';
import type { ReactNode } from 'react';

/** A page in front of everything, with one thing to do. */
export function OnADoor({ name, children }: { name?: string; children: ReactNode }) {
  return (
    <Box
      component="main"
      aria-label={name}
      sx={{ minHeight: '100dvh', display: 'grid', placeItems: 'center', p: 3 }}
    >
      {children}
    </Box>
  );
}
