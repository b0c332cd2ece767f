import Button from '@mui/material/Button';
import Divider from '@mui/material/Divider';
import ListSubheader from '@mui/material/ListSubheader';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useId, useState } from 'react';

/** Files of one kind: each with what it is for, and where it is. */
export interface Files {
  title?: string;
  files: readonly (readonly [name: string, href: string])[];
}

/** Several files to save, behind one button. */
export function FileMenu({ label, groups }: { label: string; groups: readonly Files[] }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const id = useId();
  const close = () => setAnchor(null);
  return (
    <>
      <Button
        variant="outlined"
        id={id}
        aria-haspopup="menu"
        aria-expanded={anchor !== null}
        onClick={({ currentTarget }) => setAnchor(currentTarget)}
      >
        {label}
      </Button>
      <Menu
        anchorEl={anchor}
        open={anchor !== null}
        onClose={close}
        slotProps={{ list: { 'aria-labelledby': id } }}
      >
        {groups.flatMap(({ title, files }, group) => [
          group > 0 && <Divider key={`line ${group}`} component="li" />,
          title && (
            <ListSubheader key={`title ${group}`} sx={{ lineHeight: '32px', bgcolor: 'transparent' }}>
              {title}
            </ListSubheader>
          ),
          ...files.map(([name, href]) => (
            <MenuItem key={href} component="a" href={href} download onClick={close}>
              {name}
            </MenuItem>
          )),
        ])}
      </Menu>
    </>
  );
}
