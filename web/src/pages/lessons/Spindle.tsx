import { styled } from '@mui/material/styles';

const HEIGHT = 56;
const WIDTH = 16;

const Drawing = styled('svg')(({ theme }) => ({
  flex: 'none',
  '& .line': { stroke: theme.vars.palette.own.rest },
  '& .ringing': {
    fill: theme.vars.palette.own.glow,
    stroke: theme.vars.palette.own.glowEdge,
    strokeWidth: 0.8,
  },
}));

/** One string of the sign for a whole section: it rings as far as the section has learned it on the mean. */
export function Spindle({ glow }: { glow: number }) {
  const middle = WIDTH / 2;
  const top = HEIGHT - Math.max(glow > 0 ? 8 : 0, glow * (HEIGHT - 2));
  const belly = (HEIGHT + top) / 2;
  return (
    <Drawing width={WIDTH} height={HEIGHT} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} aria-hidden>
      <path className="line" d={`M${middle} 0V${HEIGHT}`} />
      <path
        className="ringing"
        d={`M${middle} ${HEIGHT}Q${WIDTH} ${belly} ${middle} ${top}Q0 ${belly} ${middle} ${HEIGHT}Z`}
      />
    </Drawing>
  );
}
