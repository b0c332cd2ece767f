import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';

/** In the place of a page that could not be opened: its code did not come, or it came to an end by a fault of its own. */
export function Broken() {
  return (
    <Box component="main" role="alert" sx={{ p: 4, maxWidth: 560 }}>
      <Typography variant="h1">This page did not open</Typography>
      <Typography sx={{ my: 2 }}>
        What you recorded is kept on this device and goes on its way. Open the page again; where that does not
        help, begin at the room.
      </Typography>
      <Button variant="contained" onClick={() => window.location.reload()}>
        Open again
      </Button>
      <Button onClick={() => window.location.assign('/')}>To the room</Button>
    </Box>
  );
}
