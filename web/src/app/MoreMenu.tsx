import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { Link } from 'react-router';

interface Props {
  anchor: HTMLElement | null;
  /** Where the class that is open has its pages, if one is. */
  base?: string | undefined;
  /** Where the school's pages are, if there are any. */
  school?: string | undefined;
  /** Whether there is an account to look at. */
  account: boolean;
  theme: string;
  onTheme: () => void;
  onSignOut: () => void;
  onClose: () => void;
}

/** What a phone's bar has no room for. */
export function MoreMenu({ anchor, base, school, account, theme, onTheme, onSignOut, onClose }: Props) {
  const then = (call: () => void) => () => {
    onClose();
    call();
  };
  return (
    <Menu
      anchorEl={anchor}
      open={anchor !== null}
      onClose={onClose}
      slotProps={{ root: { role: 'navigation', 'aria-label': 'More' } }}
    >
      {base && (
        <MenuItem component={Link} to={`${base}/home`} onClick={onClose}>
          Home
        </MenuItem>
      )}
      {base && (
        <MenuItem component={Link} to={`${base}/term`} onClick={onClose}>
          Term
        </MenuItem>
      )}
      {base && (
        <MenuItem component={Link} to={`${base}/approach`} onClick={onClose}>
          Approach
        </MenuItem>
      )}
      {school && (
        <MenuItem component={Link} to={school} onClick={onClose}>
          School
        </MenuItem>
      )}
      {account && (
        <MenuItem component={Link} to="/account" onClick={onClose}>
          Account
        </MenuItem>
      )}
      <MenuItem onClick={then(onTheme)}>{theme}</MenuItem>
      <MenuItem onClick={then(onSignOut)}>Sign out</MenuItem>
    </Menu>
  );
}
