import Stack from '@mui/material/Stack';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { api, basedOn, unwrap, type Asset, type Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { OneOf } from '../../parts/OneOf';
import { Toggle } from '../../parts/Toggle';
import { dayWords } from '../../words/dates';
import { INSTRUMENTS } from '../../words/looks';
import { capital } from '../../words/text';
import { Callout, FileButton } from '../../parts/page';
import { SavedMeanwhile, type Said } from '../../parts/SavedMeanwhile';
import { fromMm, toMm, useUnit, type Unit } from '../../parts/units';
import { useAction } from '../../parts/useAction';

const CONDITIONS: [Asset['condition'], string][] = [
  ['good', 'Good'],
  ['fair', 'Fair'],
  ['repair', 'Out for repair'],
];

/** What is kept of an instrument, for comparing two. */
function says(body: Schemas['AssetBody'], unit: Unit): Said[] {
  const length = fromMm(body.stringLengthMm, unit);
  const yes = (flag: boolean) => (flag ? 'yes' : 'no');
  return [
    ['Kind', capital(body.instrument)],
    ['Tag', body.tag],
    ['Size', body.size],
    ['String, nut to bridge', length && `${length} ${unit}`],
    ['String over the fingerboard', body.stringHeightMm === undefined ? '' : `${body.stringHeightMm} mm`],
    ['Condition', CONDITIONS.find(([key]) => key === body.condition)?.[1] ?? body.condition],
    ['Note on its condition', body.conditionNote ?? ''],
    ['Has a bow', yes(body.bow)],
    ['Has a case', yes(body.case)],
    ['Sponge or rest', body.support ?? ''],
    ['Pin stop or strap', body.pinAnchor ?? ''],
  ];
}

interface Props {
  classId: string;
  asset: Asset;
  /** All of the store room, for a swap. */
  assets: Asset[];
  isNew: boolean;
  sizes: Schemas['SizesView'][];
  mayChange: boolean;
  onClose: () => void;
}

/** One instrument: what it is, how it is, who has it and had it. */
export function AssetForm({ classId, asset, assets, isNew, sizes, mayChange, onClose }: Props) {
  const [unit] = useUnit();
  const [body, setBody] = useState<Schemas['AssetBody']>(asset);
  const [typed, setTyped] = useState(fromMm(asset.stringLengthMm, unit));
  const [height, setHeight] = useState(
    asset.stringHeightMm === undefined ? '' : String(asset.stringHeightMm),
  );
  const action = useAction(classId);
  // As it was when the form opened: what others save meanwhile is asked about.
  const [opened] = useState(isNew ? undefined : asset.version);
  const loans = $api.useQuery(
    'get',
    '/api/classes/{class}/instruments/{asset}/loans',
    ofClass(classId, { asset: asset.id }),
    { enabled: !isNew },
  );
  const kind = sizes.find(({ instrument }) => instrument === body.instrument);
  const known = kind?.sizes ?? [];
  const usual = known.find(({ name }) => name === body.size)?.stringLengthMm;
  const whole = () => {
    const mm = toMm(typed, unit);
    const whole = { ...body };
    if (mm === undefined) delete whole.stringLengthMm;
    else whole.stringLengthMm = mm;
    const heightMm = toMm(height, 'mm');
    if (heightMm === undefined) delete whole.stringHeightMm;
    else whole.stringHeightMm = heightMm;
    return whole;
  };
  const save = async (version: string | undefined) => {
    const kept = await action.run(() =>
      unwrap(
        api.PUT('/api/classes/{class}/instruments/{asset}', {
          params: { path: { class: classId, asset: asset.id } },
          headers: basedOn(version),
          body: whole(),
        }),
      ),
    );
    if (kept) onClose();
  };
  const lend = (inClass: string, pairs: Schemas['LendingPair'][]) =>
    void action.run(() =>
      unwrap(
        api.POST('/api/classes/{class}/loans', { params: { path: { class: inClass } }, body: { pairs } }),
      ),
    );
  const giveBack = () => lend(asset.loan?.classId ?? classId, [{ child: asset.loan?.child ?? '' }]);
  /** Gives it to a child of this class; whoever had it gets that child's instead, so that two can swap. */
  const giveTo = (child: string) => {
    const theirs = assets.find(({ loan }) => loan?.child === child);
    const holder = asset.loan?.classId === classId ? asset.loan.child : undefined;
    lend(classId, [
      { child, asset: asset.id },
      ...(holder && theirs ? [{ child: holder, asset: theirs.id }] : []),
    ]);
  };
  const players = $api.useQuery('get', '/api/classes/{class}/roster', ofClass(classId));
  const takers = (players.data?.children ?? []).filter(
    ({ id, instrument }) => instrument === asset.instrument && id !== asset.loan?.child,
  );
  const field = (key: 'tag' | 'conditionNote' | 'support' | 'pinAnchor', label: string) => (
    <TextField
      label={label}
      value={body[key] ?? ''}
      disabled={!mayChange}
      error={action.problemOf(key) !== undefined}
      helperText={action.problemOf(key)}
      onChange={(event) => setBody({ ...body, [key]: event.target.value })}
    />
  );
  const flag = (key: 'bow' | 'case', label: string) => (
    <Toggle on={body[key]} disabled={!mayChange} onClick={() => setBody({ ...body, [key]: !body[key] })}>
      {label}
    </Toggle>
  );
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="asset-title">
      <DialogTitle id="asset-title" variant="h2">
        {isNew ? 'A new instrument' : `${asset.tag}, ${asset.instrument} ${asset.size}`}
      </DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 2 }}>
        <OneOf
          name="Kind"
          value={body.instrument}
          disabled={!mayChange}
          options={INSTRUMENTS.map((one) => [one, capital(one)] as const)}
          onChoose={(kind) => {
            const first = sizes.find(({ instrument }) => instrument === kind)?.sizes[0]?.name ?? '';
            setBody({ ...body, instrument: kind, size: kind === body.instrument ? body.size : first });
          }}
        />
        {action.problemOf('instrument') && (
          <Typography sx={{ color: 'error.main' }}>{action.problemOf('instrument')}</Typography>
        )}
        <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { sm: '1fr 1fr 1.4fr' } }}>
          {field('tag', 'Tag')}
          <TextField
            select
            label="Size"
            value={body.size}
            disabled={!mayChange}
            error={action.problemOf('size') !== undefined}
            helperText={action.problemOf('size')}
            onChange={(event) => setBody({ ...body, size: event.target.value })}
          >
            {known.map(({ name }) => (
              <MenuItem key={name} value={name}>
                {name}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            label={`String, nut to bridge, ${unit}`}
            value={typed}
            disabled={!mayChange}
            error={action.problemOf('stringLengthMm') !== undefined}
            helperText={
              action.problemOf('stringLengthMm') ??
              (usual === undefined ? '' : `usually ${fromMm(usual, unit)} ${unit}`)
            }
            onChange={(event) => setTyped(event.target.value)}
          />
        </Box>
        <OneOf
          name="Condition"
          value={body.condition}
          disabled={!mayChange}
          options={CONDITIONS}
          onChoose={(condition) => {
            const next = { ...body, condition };
            // A new condition begins today; the old one keeps its day.
            if (condition === asset.condition && asset.conditionSince)
              next.conditionSince = asset.conditionSince;
            else delete next.conditionSince;
            setBody(next);
          }}
        />
        {field('conditionNote', 'Note on its condition')}
        <TextField
          label="String over the fingerboard, mm"
          value={height}
          disabled={!mayChange}
          error={action.problemOf('stringHeightMm') !== undefined}
          helperText={
            action.problemOf('stringHeightMm') ??
            `At the third finger${kind?.stringHeightMm === undefined ? '' : `; usually about ${kind.stringHeightMm} mm`}. Well above it the nut or the bridge is for a luthier.`
          }
          slotProps={{ htmlInput: { inputMode: 'decimal' } }}
          onChange={(event) => setHeight(event.target.value)}
        />
        {body.condition === 'repair' && (
          <Callout>
            Cracks, open seams, a moved soundpost or bridge, strings far from the board, and pegs that do not
            hold are a luthier’s work. The neck is glued on: nobody leans on it or pulls it.
          </Callout>
        )}
        <Stack direction="row" spacing={0.75} sx={{ flexWrap: 'wrap' }}>
          {flag('bow', 'Has a bow')}
          {flag('case', 'Has a case')}
        </Stack>
        <Box sx={{ display: 'grid', gap: 2, gridTemplateColumns: { sm: '1fr 1fr' } }}>
          {field('support', 'Sponge or rest')}
          {field('pinAnchor', 'Pin stop or strap')}
        </Box>
        {!isNew && (
          <Box>
            <Typography variant="h3" component="h3">
              Who has it, who had it
            </Typography>
            {loans.data?.length === 0 && <Typography>Nobody so far.</Typography>}
            <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
              {loans.data?.map((loan) => (
                <li key={`${loan.child} ${loan.since}`}>
                  {loan.name}, {loan.className}: {dayWords(loan.since)}
                  {loan.until ? ` to ${dayWords(loan.until)}` : ' until now'}
                </li>
              ))}
            </Box>
            <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap', mt: 1 }}>
              {asset.loan && mayChange && (
                <Button variant="outlined" onClick={giveBack}>
                  Given back by {asset.loan.name}
                </Button>
              )}
              {mayChange && asset.condition !== 'repair' && takers.length > 0 && (
                <TextField
                  select
                  size="small"
                  label={asset.loan ? `Swap ${asset.loan.name} with` : 'Give it to'}
                  value=""
                  sx={{ width: 220 }}
                  onChange={(event) => giveTo(event.target.value)}
                >
                  {takers.map(({ id, name, tag }) => (
                    <MenuItem key={id} value={id}>
                      {name}
                      {tag ? `, has ${tag}` : ''}
                    </MenuItem>
                  ))}
                </TextField>
              )}
              <FileButton href={`/api/classes/${classId}/labels.pdf?asset=${asset.id}`}>
                Print its tag
              </FileButton>
            </Stack>
          </Box>
        )}
        {action.error && <Alert severity="error">{action.error}</Alert>}
        <SavedMeanwhile
          action={action}
          mine={whole()}
          says={(one) => says(one, unit)}
          onMine={(version) => void save(version)}
          onTheirs={onClose}
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        {mayChange && (
          <Button variant="contained" loading={action.busy} onClick={() => void save(opened)}>
            Save
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}
