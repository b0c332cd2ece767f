import { styled } from '@mui/material/styles';

/** Over everything, for a projector: no name of a child is on it. */
export const Wall = styled('div')(({ theme }) => ({
  position: 'fixed',
  inset: 0,
  zIndex: theme.zIndex.modal,
  display: 'grid',
  gridTemplateRows: 'auto minmax(0, 1fr) auto',
  gap: theme.spacing(1.5),
  padding: theme.spacing(2),
  background: theme.vars.palette.background.default,
}));
