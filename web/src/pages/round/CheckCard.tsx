import IconButton from '@mui/material/IconButton';
import Stack from '@mui/material/Stack';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { Check, Instrument } from '../../api/client';
import { LookDrawing, SlipDrawing } from '../../parts/drawings';
import { Toggle } from '../../parts/Toggle';
import { LevelKeys } from '../../parts/LevelKeys';
import { Card } from '../../parts/page';
import { TapeDrift } from './TapeDrift';
import type { Visit } from './useVisit';
import { whyWords } from '../../words/next';

type Item = Check['items'][number];

/** Slips, the likeliest first; the first help of those that are ticked. */
function Slips({ item, visit, most }: { item: Item; visit: Visit; most: number }) {
  const [all, setAll] = useState(false);
  const ticked = visit.slipsOf(item.id);
  const shown = item.slips.filter((slip, index) => all || index < most || ticked.includes(slip.id));
  if (item.slips.length === 0) return null;
  return (
    <>
      <Stack
        direction="row"
        spacing={0.75}
        role="group"
        aria-label={`Slips at ${item.name}`}
        sx={{ flexWrap: 'wrap' }}
      >
        {shown.map((slip) => (
          <Toggle key={slip.id} on={ticked.includes(slip.id)} onClick={() => visit.slip(item, slip.id)}>
            {slip.name}
          </Toggle>
        ))}
        {shown.length < item.slips.length && (
          <IconButton aria-label={`More slips at ${item.name}`} onClick={() => setAll(true)}>
            …
          </IconButton>
        )}
      </Stack>
      {item.slips
        .filter((slip) => ticked.includes(slip.id))
        .map((slip) => (
          <Stack key={slip.id} direction="row" spacing={1.25} sx={{ alignItems: 'center' }}>
            <SlipDrawing slip={slip.id} help={slip.help} />
            <Box>
              <strong>First help:</strong> {slip.help}
            </Box>
          </Stack>
        ))}
    </>
  );
}

/** What counts as there, one tap away: the same for everybody who observes. */
function Proof({ item }: { item: Item }) {
  const [open, setOpen] = useState(false);
  if (!item.proof) return null;
  return (
    <>
      <Button
        variant="pill"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
        sx={{ justifySelf: 'start' }}
      >
        Proof
      </Button>
      {open && (
        <Box>
          {item.proof}. Say: “{item.cue}”
        </Box>
      )}
    </>
  );
}

/** What to look for, with its drawing: a tap shows it large. */
function Looked({ item, large = false }: { item: Item; large?: boolean }) {
  return (
    <Stack direction="row" spacing={1.25} sx={{ alignItems: 'center' }}>
      <LookDrawing
        checkpoint={item.id}
        name={item.name}
        lookFor={item.lookFor}
        proof={item.proof}
        cue={item.cue}
      />
      <Box sx={{ fontSize: large ? '1.15rem' : '1rem', fontWeight: 600, lineHeight: 1.3 }}>
        {item.lookFor}
      </Box>
    </Stack>
  );
}

interface Props {
  check: Check;
  visit: Visit;
  instrument: Instrument;
  /** Where number keys go. */
  selected: boolean;
  onSelect: () => void;
}

/** One thing to look at, with its keys. */
export function CheckCard({ check, visit, instrument, selected, onSelect }: Props) {
  const [item] = check.items;
  return (
    <Card
      aria-label={check.name}
      onPointerDown={onSelect}
      sx={{
        p: 1.5,
        display: 'grid',
        gap: 1,
        boxShadow: (theme) => (selected ? `inset 4px 0 ${theme.vars.palette.own.glow}` : 'none'),
      }}
    >
      <Box>
        <Typography variant="h3">{check.name}</Typography>
        <Box sx={{ color: 'text.secondary' }}>{whyWords(check)}</Box>
      </Box>
      {check.kind === 'stage' ? (
        <StageLook check={check} visit={visit} />
      ) : (
        item && (
          <>
            <Looked item={item} large />
            <LevelKeys
              wide
              name={item.name}
              level={visit.of(item.id)?.level}
              tape={check.kind === 'tapes'}
              onObserve={(level) => visit.level(check, item, level)}
            />
            {check.kind === 'tapes' && <TapeDrift check={check} visit={visit} instrument={instrument} />}
            <Slips item={item} visit={visit} most={4} />
            <Proof item={item} />
          </>
        )
      )}
    </Card>
  );
}

/** A whole stage: still there with one tap; what is not gets an observation of its own. */
function StageLook({ check, visit }: { check: Check; visit: Visit }) {
  const [open, setOpen] = useState<string>();
  const item = check.items.find(({ id }) => id === open);
  return (
    <>
      <Button
        variant={visit.of(check.target) ? 'contained' : 'outlined'}
        aria-pressed={visit.of(check.target) !== undefined}
        sx={{ minHeight: 56, fontSize: '1.1rem' }}
        onClick={() => visit.holds(check)}
      >
        Still there
      </Button>
      <Stack
        direction="row"
        spacing={0.75}
        role="group"
        aria-label={`Not yet in ${check.name}`}
        sx={{ flexWrap: 'wrap', alignItems: 'center' }}
      >
        <span>But not</span>
        {check.items.map(({ id, name }) => (
          <Toggle
            key={id}
            on={visit.of(id) !== undefined}
            aria-expanded={open === id}
            onClick={() => setOpen(open === id ? undefined : id)}
          >
            {name}
          </Toggle>
        ))}
      </Stack>
      {item && (
        <Box sx={{ display: 'grid', gap: 1 }}>
          <Looked item={item} />
          <LevelKeys
            wide
            name={item.name}
            level={visit.of(item.id)?.level}
            onObserve={(level) => visit.level(check, item, level)}
          />
          <Slips item={item} visit={visit} most={4} />
          <Proof item={item} />
        </Box>
      )}
    </>
  );
}
