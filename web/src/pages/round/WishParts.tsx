import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import Stack from '@mui/material/Stack';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { OneOf } from '../../parts/OneOf';
import { Toggle } from '../../parts/Toggle';
import { Card } from '../../parts/page';
import { partWords } from '../../words/looks';
import { RowsLine } from './RowsLine';
import type { RoundWish } from './useWish';
import { minutesWords } from './walk';

const MINUTES = [5, 8, 12, 20];
const MIN_MINUTES = 1;
const MAX_MINUTES = 60;

/** Stands for no choice among parts and strands. */
const ALL = 'all';

interface Props {
  wish: RoundWish;
}

/** How long, a minute at a time. */
export function Minutes({ wish: { wish, setMinutes } }: Props) {
  const { minutes } = wish;
  return (
    <>
      <IconButton
        aria-label="One minute less"
        disabled={minutes <= MIN_MINUTES}
        onClick={() => setMinutes(minutes - 1)}
      >
        −
      </IconButton>
      <Typography
        component="output"
        sx={{
          fontSize: { xs: '1.1rem', sm: '1.35rem' },
          fontWeight: 700,
          minWidth: { xs: 58, sm: 86 },
          textAlign: 'center',
          whiteSpace: 'nowrap',
        }}
      >
        {minutes} min
      </Typography>
      <IconButton
        aria-label="One minute more"
        disabled={minutes >= MAX_MINUTES}
        onClick={() => setMinutes(minutes + 1)}
      >
        +
      </IconButton>
    </>
  );
}

/** How long, in one tap. */
export function UsualMinutes({ wish: { wish, setMinutes } }: Props) {
  return MINUTES.map((some) => (
    <Toggle key={some} on={some === wish.minutes} onClick={() => setMinutes(some)}>
      {some}
    </Toggle>
  ));
}

function partsOf({ kit }: RoundWish): (readonly [key: string, name: string])[] {
  return [[ALL, 'Whole class'], ...kit.parts.map((part) => [part.key, partWords(part)] as const)];
}

/** Whom, all choices in sight. */
export function Whom({ wish }: Props) {
  return (
    <OneOf
      name="Whom"
      value={wish.wish.part ?? ALL}
      options={partsOf(wish)}
      onChoose={(key) => wish.setPart(key === ALL ? undefined : key)}
    />
  );
}

/** Whom, where there is one line for it. */
export function WhomInOneLine({ wish }: Props) {
  return (
    <TextField
      select
      size="small"
      value={wish.wish.part ?? ALL}
      onChange={({ target }) => wish.setPart(target.value === ALL ? undefined : target.value)}
      slotProps={{ select: { SelectDisplayProps: { 'aria-label': 'Whom' } } }}
      sx={{ flex: 1, minWidth: 0, '& .MuiSelect-select': { pl: 1, pr: '26px !important' } }}
    >
      {partsOf(wish).map(([key, name]) => (
        <MenuItem key={key} value={key}>
          {name}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** What is looked at. */
export function What({ wish: { kit, wish, setStrand } }: Props) {
  return (
    <OneOf
      name="What"
      value={wish.strand ?? ALL}
      options={[[ALL, 'Everything'], ...kit.strands.map(({ key, name }) => [key, name] as const)]}
      onChoose={(key) => setStrand(key === ALL ? undefined : key)}
    />
  );
}

/** Who is absent, pinned or left out, on the chairs. */
export function Chairs({ wish: { kit, plan, tapping, setTapping, look, tap } }: Props) {
  return (
    <Card aria-label="The rows" sx={{ p: 1.5, display: 'grid', gap: 1 }}>
      <Stack direction="row" spacing={0.75} sx={{ flexWrap: 'wrap', alignItems: 'center' }}>
        <Typography component="span" aria-hidden>
          A tap on a chair says
        </Typography>
        <OneOf
          name="A tap on a chair says"
          value={tapping}
          options={[
            ['absent', 'Absent today'],
            ['pin', 'Pin'],
            ['out', 'Leave out'],
          ]}
          onChoose={setTapping}
        />
      </Stack>
      <RowsLine kit={kit} walk={plan.stops.map(({ child }) => child)} look={look} onTap={tap} />
    </Card>
  );
}

/** Looks from afar that spare visits; those that are taken come first in the round. */
export function FromAfar({ wish: { kit, worthwhile, scans, take } }: Props) {
  if (worthwhile.length === 0) return null;
  return (
    <Card aria-label="From afar first" sx={{ p: 1.5, display: 'grid', gap: 0.75 }}>
      <Typography variant="h3" component="h2">
        From afar first
      </Typography>
      {worthwhile.map((scan) => {
        const taken = scans.includes(scan);
        return (
          <Stack
            direction="row"
            spacing={1}
            key={`${scan.target} ${scan.part}`}
            sx={{ alignItems: 'center' }}
          >
            <Toggle on={taken} onClick={() => take(scan, !taken)}>
              {partWords(kit.parts.find(({ key }) => key === scan.part))}: {scan.name}
            </Toggle>
            <span>
              {scan.seconds} s, spares {minutesWords(scan.saves)}
            </span>
          </Stack>
        );
      })}
    </Card>
  );
}
