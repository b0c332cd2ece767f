import Alert from '@mui/material/Alert';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { useParams } from 'react-router';
import { api, unwrap, type Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { FileButton, Read, PageContent, Table } from '../../parts/page';
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
              <FileButton href={`/api/classes/${classId}/supplies.csv`}>Save as CSV</FileButton>
            </>
          }
        >
          {action.error && (
            <Alert severity="error" variant="outlined" sx={{ mb: 1, color: 'text.primary' }}>
              {action.error}
            </Alert>
          )}
          <Table>
            <thead>
              <tr>
                <th scope="col">Item</th>
                <th scope="col" className="number">
                  Needed
                </th>
                <th scope="col" className="number">
                  In store
                </th>
                <th scope="col" className="number">
                  To buy
                </th>
              </tr>
            </thead>
            <tbody>
              {lines.map((line) => (
                <tr key={`${line.key} ${line.name}`}>
                  <td>{line.name}</td>
                  <td className="number">{withUnit(line.needed, line.unit)}</td>
                  <td className="number">
                    {line.countedHere && director ? (
                      <Stock key={line.inStore} line={line} onSet={(quantity) => set(line.key, quantity)} />
                    ) : line.key.startsWith('strips') ? (
                      '–'
                    ) : (
                      withUnit(line.inStore, line.unit)
                    )}
                  </td>
                  <td className="number">
                    {line.toBuy > 0 ? <strong>{withUnit(line.toBuy, line.unit)}</strong> : '–'}
                  </td>
                </tr>
              ))}
            </tbody>
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
