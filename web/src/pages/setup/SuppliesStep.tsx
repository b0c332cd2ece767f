import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Alert from '@mui/material/Alert';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { useParams } from 'react-router';
import { api, unwrap, type Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { FileMenu } from '../../parts/FileMenu';
import { FileButton, Read, PageContent } from '../../parts/page';
import { useDirector } from '../../parts/useDirector';
import { useAction } from '../../parts/useAction';

/** What the class needs beside its instruments, what is there, what to buy. */
export function SuppliesStep() {
  const { classId = '' } = useParams();
  const supplies = $api.useQuery('get', '/api/classes/{class}/supplies', ofClass(classId));
  const action = useAction(classId);
  const director = useDirector(classId);
  const set = (key: string, quantity: number) =>
    void action.run(() =>
      unwrap(
        api.PUT('/api/classes/{class}/supplies', {
          params: { path: { class: classId } },
          body: { key, quantity },
        }),
      ),
    );
  return (
    <Read query={supplies} what="The list is being made">
      {({ lines }) => (
        <PageContent
          name="Supplies"
          bar={
            <>
              <FileButton href={`/api/classes/${classId}/order-list.pdf?paper=a4`}>Order list, A4</FileButton>
              <FileButton href={`/api/classes/${classId}/order-list.pdf?paper=letter`}>
                Order list, Letter
              </FileButton>
              <FileMenu
                label="Save as"
                groups={[
                  {
                    files: [
                      ['Workbook (.xlsx)', `/api/classes/${classId}/supplies.xlsx`],
                      ['Table (CSV)', `/api/classes/${classId}/supplies.csv`],
                    ],
                  },
                ]}
              />
            </>
          }
        >
          {action.error && (
            <Alert severity="error" sx={{ mb: 1 }}>
              {action.error}
            </Alert>
          )}
          <Table>
            <TableHead>
              <TableRow>
                <TableCell scope="col">Item</TableCell>
                <TableCell scope="col" align="right">
                  Needed
                </TableCell>
                <TableCell scope="col" align="right">
                  In store
                </TableCell>
                <TableCell scope="col" align="right">
                  To buy
                </TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {lines.map((line) => (
                <TableRow key={`${line.key} ${line.name}`}>
                  <TableCell>{line.name}</TableCell>
                  <TableCell align="right">{withUnit(line.needed, line.unit)}</TableCell>
                  <TableCell align="right">
                    {line.countedHere && director ? (
                      <Stock key={line.inStore} line={line} onSet={(quantity) => set(line.key, quantity)} />
                    ) : line.key.startsWith('strips') ? (
                      '–'
                    ) : (
                      withUnit(line.inStore, line.unit)
                    )}
                  </TableCell>
                  <TableCell align="right">
                    {line.toBuy > 0 ? <strong>{withUnit(line.toBuy, line.unit)}</strong> : '–'}
                  </TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </PageContent>
      )}
    </Read>
  );
}

function withUnit(quantity: number, unit: string): string {
  return unit === 'm' ? `${quantity} m` : String(quantity);
}

/** What was counted, typed where it stands; kept when the field is left or Enter is pressed. */
function Stock({ line, onSet }: { line: Schemas['LineView']; onSet: (quantity: number) => void }) {
  const [typed, setTyped] = useState(String(line.inStore));
  const number = Number(typed.replace(',', '.'));
  const wrong = typed.trim() === '' || !Number.isFinite(number) || number < 0;
  const keep = () => {
    if (!wrong && number !== line.inStore) onSet(number);
  };
  return (
    <TextField
      size="small"
      value={typed}
      error={wrong}
      slotProps={{
        input: { endAdornment: line.unit === 'm' ? '\u00a0m' : undefined },
        htmlInput: {
          inputMode: 'decimal',
          'aria-label': `In store, ${line.name}`,
          style: { textAlign: 'right', width: 64 },
        },
      }}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => event.key === 'Enter' && keep()}
    />
  );
}
