import Stack from '@mui/material/Stack';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { v7 as uuid } from 'uuid';
import type { Asset, Instrument, Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { Toggle } from '../../parts/Toggle';
import { useDirector } from '../../parts/useDirector';
import { InstrumentChips } from '../../parts/InstrumentChips';
import { dayWords } from '../../words/dates';
import { count } from '../../words/text';
import { AssetForm } from './AssetForm';
import { FileMenu } from '../../parts/FileMenu';
import { InventoryImport } from './InventoryImport';
import { TagsDialog } from './TagsDialog';
import { Read, PageContent } from '../../parts/page';
import { length, useUnit } from '../../parts/units';

const CONDITIONS = { good: 'good', fair: 'fair', repair: 'out for repair' } as const;

/** Narrowings of the list, each with what it keeps. */
const ONLY: [name: string, keeps: (asset: Asset) => boolean][] = [
  ['Free', (asset) => !asset.loan && asset.condition !== 'repair'],
  ['Not measured', (asset) => asset.stringLengthMm === undefined],
  ['Out for repair', (asset) => asset.condition === 'repair'],
];

/** A new instrument begins as most are. */
function begin(sizes: Schemas['SizesView'][]): Asset {
  const size = sizes.find(({ instrument }) => instrument === 'violin')?.sizes[0]?.name ?? '';
  const rest = { size, condition: 'good', bow: true, case: true } as const;
  return { id: uuid(), version: '', tag: '', instrument: 'violin', ...rest };
}

/** The store room: what there is, how it is, who has it. */
export function InstrumentsStep() {
  const { classId = '', assetId } = useParams();
  const navigate = useNavigate();
  const inventory = $api.useQuery('get', '/api/classes/{class}/instruments', ofClass(classId));
  const [unit] = useUnit();
  const [kind, setKind] = useState<Instrument>();
  const [only, setOnly] = useState<string>();
  const [importing, setImporting] = useState(false);
  const [fresh, setFresh] = useState<Asset>();
  const director = useDirector(classId);
  const base = `/class/${classId}/set-up/instruments`;
  const [tags, setTags] = useState(false);
  return (
    <Read query={inventory} what="The store room is being read">
      {({ assets, sizes }) => {
        const keeps = ONLY.find(([name]) => name === only)?.[1];
        const shown = assets.filter(
          (asset) =>
            (kind === undefined || asset.instrument === kind) && (keeps === undefined || keeps(asset)),
        );
        const open = fresh ?? assets.find(({ id }) => id === assetId);
        return (
          <PageContent
            name="Instruments"
            bar={
              <>
                {director && (
                  <>
                    <Button variant="contained" onClick={() => setFresh(begin(sizes))}>
                      Add an instrument
                    </Button>
                    <Button variant="outlined" onClick={() => setImporting(!importing)}>
                      Import a file
                    </Button>
                  </>
                )}
                <FileMenu
                  label="Save as"
                  groups={[
                    {
                      files: [
                        ['Workbook (.xlsx)', `/api/classes/${classId}/instruments.xlsx`],
                        ['Table (CSV)', `/api/classes/${classId}/instruments.csv`],
                      ],
                    },
                  ]}
                />
                <Button variant="outlined" disabled={assets.length === 0} onClick={() => setTags(true)}>
                  Print tags
                </Button>
                {tags && <TagsDialog classId={classId} onClose={() => setTags(false)} />}
                <Box sx={{ flexBasis: '100%' }} />
                <Stack
                  direction="row"
                  spacing={0.75}
                  role="group"
                  aria-label="Show"
                  sx={{ flexWrap: 'wrap' }}
                >
                  <InstrumentChips only={kind} onOnly={setKind} />
                  {ONLY.map(([name]) => (
                    <Toggle
                      key={name}
                      on={only === name}
                      onClick={() => setOnly(only === name ? undefined : name)}
                    >
                      {name}
                    </Toggle>
                  ))}
                </Stack>
                <Typography sx={{ color: 'text.secondary' }}>
                  {count(shown.length, 'instrument')}
                  {shown.length < assets.length && ` of ${assets.length}`}
                </Typography>
              </>
            }
          >
            {importing && <InventoryImport classId={classId} onDone={() => setImporting(false)} />}
            {assets.length === 0 ? (
              <Typography sx={{ maxWidth: 520, py: 3 }}>
                The store room is empty. Add the instruments one by one, or import a table with the columns
                Tag, Kind and Size.
              </Typography>
            ) : (
              <Table>
                <TableHead>
                  <TableRow>
                    <TableCell scope="col">Tag</TableCell>
                    <TableCell scope="col">Instrument</TableCell>
                    <TableCell scope="col" align="right" className="wide">
                      String
                    </TableCell>
                    <TableCell scope="col">Condition</TableCell>
                    <TableCell scope="col" className="wide">
                      With it
                    </TableCell>
                    <TableCell scope="col">Who has it</TableCell>
                  </TableRow>
                </TableHead>
                <TableBody>
                  {shown.map((asset) => (
                    <TableRow key={asset.id}>
                      <TableCell>
                        <Button
                          component={Link}
                          to={`${base}/${asset.id}`}
                          sx={{ px: 1, ml: -1, fontWeight: 600, justifyContent: 'flex-start' }}
                        >
                          {asset.tag}
                        </Button>
                      </TableCell>
                      <TableCell>
                        {asset.instrument} {asset.size}
                      </TableCell>
                      <TableCell align="right" className="wide">
                        {asset.stringLengthMm === undefined
                          ? 'not measured'
                          : length(asset.stringLengthMm, unit)}
                      </TableCell>
                      <TableCell>
                        {CONDITIONS[asset.condition]}
                        {asset.condition === 'repair' &&
                          asset.conditionSince &&
                          ` since ${dayWords(asset.conditionSince)}`}
                        {asset.conditionNote && `: ${asset.conditionNote}`}
                      </TableCell>
                      <TableCell className="wide">
                        {[
                          asset.bow ? 'bow' : 'no bow',
                          asset.case ? 'case' : 'no case',
                          asset.support,
                          asset.pinAnchor,
                        ]
                          .filter(Boolean)
                          .join(', ')}
                      </TableCell>
                      <TableCell>
                        {asset.loan ? `${asset.loan.name}, since ${dayWords(asset.loan.since)}` : 'free'}
                      </TableCell>
                    </TableRow>
                  ))}
                </TableBody>
              </Table>
            )}
            {open && (
              <AssetForm
                key={open.id}
                classId={classId}
                assets={assets}
                asset={open}
                isNew={fresh !== undefined}
                sizes={sizes}
                mayChange={director}
                onClose={() => {
                  setFresh(undefined);
                  void navigate(base);
                }}
              />
            )}
          </PageContent>
        );
      }}
    </Read>
  );
}
