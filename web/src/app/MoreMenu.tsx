import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { Link } from 'react-router';

interface Props {
  anchor: HTMLElement | null;
  /** Where the class that is open has its pages, if one is. */
  base?: string | undefined;
  theme: string;
  onTheme: () => void;
  onSignOut: () => void;
  onClose: () => void;
}

/** What a phone's bar has no room for. */
export function MoreMenu({ anchor, base, theme, onTheme, onSignOut, onClose }: Props) {
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
        <MenuItem component={Link} to={`${base}/approach`} onClick={onClose}>
          Approach
        </MenuItem>
      )}
      <MenuItem onClick={then(onTheme)}>{theme}</MenuItem>
      <MenuItem onClick={then(onSignOut)}>Sign out</MenuItem>
    </Menu>
  );
}
