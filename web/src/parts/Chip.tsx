import ButtonBase from '@mui/material/ButtonBase';
import { styled } from '@mui/material/styles';

/** A choice that is on or off, in the one style that all of them share. */
export const Chip = styled(ButtonBase)(({ theme }) => ({
  flex: 'none',
  minHeight: 44,
  padding: theme.spacing(0, 1.5),
  fontSize: '1rem',
  borderRadius: 22,
  border: `1px solid ${theme.vars.palette.divider}`,
  background: theme.vars.palette.background.paper,
  color: theme.vars.palette.text.primary,
  '&:hover': { borderColor: theme.vars.palette.text.secondary },
  '&[aria-pressed="true"]': {
    background: theme.vars.palette.text.primary,
    borderColor: theme.vars.palette.text.primary,
    color: theme.vars.palette.background.paper,
    fontWeight: 600,
  },
}));
