import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { api, unwrap, type Schemas } from '../../api/client';
import { ofClass } from '../../api/queries';
import { Card, FileButton } from '../../parts/page';
import { useAction } from '../../parts/useAction';
import { useDirector } from '../../parts/useDirector';
import { count } from '../../words/text';

interface Props {
  classId: string;
  roster: Schemas['Roster'];
}

/** The school's instruments that are still with children: the loan sheet again, and back into the store room. */
export function StillOut({ classId, roster }: Props) {
  const { run, busy, error } = useAction(classId);
  const mayChange = useDirector(classId);
  const out = roster.children.filter(({ tag }) => tag !== undefined);
  const back = (child: string) =>
    run(() =>
      unwrap(api.POST('/api/classes/{class}/loans', { ...ofClass(classId), body: { pairs: [{ child }] } })),
    );
  return (
    <Card aria-label="Instruments that are still out" sx={{ display: 'grid', gap: 1 }}>
      <Typography variant="h2">
        {out.length === 0 ? 'Every instrument is back' : `${count(out.length, 'instrument')} still out`}
      </Typography>
      {error && <Alert severity="error">{error}</Alert>}
      {out.length > 0 && (
        <Table size="small" aria-label="Still out">
          <TableBody>
            {out.map(({ id, name, tag, instrument }) => (
              <TableRow key={id}>
                <TableCell component="th" scope="row" sx={{ fontSize: '1rem' }}>
                  {name}
                  <Typography color="textSecondary">
                    {instrument} {tag}
                  </Typography>
                </TableCell>
                <TableCell align="right">
                  <Stack direction="row" spacing={1} sx={{ justifyContent: 'flex-end' }}>
                    <FileButton href={`/api/classes/${classId}/children/${id}/sheet.pdf?sheet=loan`}>
                      Loan sheet
                    </FileButton>
                    {mayChange && (
                      <Button
                        variant="outlined"
                        disabled={busy}
                        aria-label={`${tag ?? ''} of ${name} is back`}
                        onClick={() => void back(id)}
                      >
                        Back
                      </Button>
                    )}
                  </Stack>
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
    </Card>
  );
}
