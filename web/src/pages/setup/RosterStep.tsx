import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { api, unwrap, type RosterChild } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { dayWords } from '../../words/dates';
import { count } from '../../words/text';
import { ChildForm } from './ChildForm';
import { FileMenu } from '../../parts/FileMenu';
import { Read, PageContent } from '../../parts/page';
import { useDirector } from '../../parts/useDirector';
import { useAction } from '../../parts/useAction';

/** Who is in the class; one row a child. */
export function RosterStep() {
  const { classId = '' } = useParams();
  const roster = $api.useQuery('get', '/api/classes/{class}/roster', ofClass(classId));
  const director = useDirector(classId);
  const [open, setOpen] = useState<string>();
  const [undone, setUndone] = useState<string>();
  const action = useAction(classId);
  const undo = (id: string) =>
    action.run(async () => {
      const done = await unwrap(
        api.DELETE('/api/classes/{class}/roster/imports/{import}', {
          params: { path: { class: classId, import: id } },
        }),
      );
      const left =
        done.left > 0 ? ` ${done.left} recorded since then left the class and keep their history.` : '';
      setUndone(`Undone: ${done.removed} removed, ${done.putBack} put back.${left}`);
    });
  return (
    <Read query={roster} what="The roster is being read">
      {({ children, left, lastImport, otherClasses }) => {
        const chosen = [...children, ...left].find(({ id }) => id === open);
        return (
          <PageContent
            name="Roster"
            bar={
              <>
                {director && (
                  <>
                    <Button component={Link} to={`/class/${classId}/set-up/import`} variant="contained">
                      Import a file
                    </Button>
                    <Button component={Link} to={`/class/${classId}/children/new`} variant="outlined">
                      Add children
                    </Button>
                  </>
                )}
                {director && (
                  <FileMenu
                    label="Save as"
                    groups={[
                      {
                        files: [
                          ['Workbook (.xlsx)', `/api/classes/${classId}/roster.xlsx`],
                          ['Table (CSV)', `/api/classes/${classId}/roster.csv`],
                        ],
                      },
                    ]}
                  />
                )}
                {director && lastImport && (
                  <Button loading={action.busy} onClick={() => void undo(lastImport.id)}>
                    Undo the import of {dayWords(lastImport.importedAt)}
                  </Button>
                )}
                <Typography sx={{ color: 'text.secondary' }}>
                  {count(children.length, 'child', 'children')}
                  {left.length > 0 && `, ${left.length} left`}
                </Typography>
              </>
            }
          >
            {undone && (
              <Alert severity="info" sx={{ mb: 1 }}>
                {undone}
              </Alert>
            )}
            {action.error && (
              <Alert severity="error" sx={{ mb: 1 }}>
                {action.error}
              </Alert>
            )}
            {children.length === 0 ? (
              <Typography sx={{ maxWidth: 520, py: 3 }}>
                Nobody is in this class yet. Import the office’s file, or add the children one by one: a first
                name and one letter is enough.
              </Typography>
            ) : (
              <Rows rows={children} onOpen={director ? setOpen : undefined} />
            )}
            {left.length > 0 && (
              <>
                <Typography variant="h3" component="h2" sx={{ mt: 3, mb: 1 }}>
                  Left the class
                </Typography>
                <Rows rows={left} onOpen={director ? setOpen : undefined} />
              </>
            )}
            {chosen && (
              <ChildForm
                key={chosen.id}
                classId={classId}
                child={chosen}
                otherClasses={otherClasses}
                onClose={() => setOpen(undefined)}
              />
            )}
          </PageContent>
        );
      }}
    </Read>
  );
}

function Rows({ rows, onOpen }: { rows: RosterChild[]; onOpen?: ((id: string) => void) | undefined }) {
  return (
    <Table>
      <TableHead>
        <TableRow>
          <TableCell scope="col">Name</TableCell>
          <TableCell scope="col">Instrument</TableCell>
          <TableCell scope="col" className="wide">
            Grade
          </TableCell>
          <TableCell scope="col">Tag</TableCell>
          <TableCell scope="col" className="wide">
            Seat
          </TableCell>
          <TableCell scope="col" className="wide">
            Wishes
          </TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {rows.map((child) => (
          <TableRow key={child.id}>
            <TableCell>
              {onOpen ? (
                <Button
                  onClick={() => onOpen(child.id)}
                  sx={{ px: 1, ml: -1, fontWeight: 600, justifyContent: 'flex-start' }}
                >
                  {child.name}
                </Button>
              ) : (
                child.name
              )}
            </TableCell>
            <TableCell>{child.instrument}</TableCell>
            <TableCell className="wide">{child.grade}</TableCell>
            <TableCell>{child.tag ?? '–'}</TableCell>
            <TableCell className="wide">
              {child.seat ? `row ${child.seat.row}, seat ${child.seat.seat}` : '–'}
            </TableCell>
            <TableCell className="wide">
              {[child.nearFront && 'near the front', child.nearAisle && 'near an aisle']
                .filter(Boolean)
                .join(', ')}
            </TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}
