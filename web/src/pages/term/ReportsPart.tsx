import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { Card, FileButton, PageContent } from '../../parts/page';
import { Toggle } from '../../parts/Toggle';

/** What leaves the room: the class for the office, a page for each family, everything for who comes next. */
export function ReportsPart() {
  const { classId = '' } = useParams();
  const [seen, setSeen] = useState(false);
  const of = (file: string) => `/api/classes/${classId}/${file}`;
  const also = seen ? '?seen=true' : '';
  return (
    <PageContent name="Reports">
      <Box sx={{ display: 'grid', gap: 2, maxWidth: 820, gridTemplateColumns: 'minmax(0, 1fr)' }}>
        <Card aria-label="For the office" sx={{ display: 'grid', gap: 1 }}>
          <Typography variant="h2">For the office</Typography>
          <Typography>
            A row a child, by seat: instrument, the furthest stage of each strand and since when, visits and
            waits. The workbook has the stages by section, every meeting and attendance as well. No order of
            merit.
          </Typography>
          <Stack direction="row" spacing={1} sx={{ flexWrap: 'wrap', rowGap: 1 }}>
            <FileButton href={of(`term.xlsx${also}`)}>Workbook (.xlsx)</FileButton>
            <FileButton href={of(`term.csv${also}`)}>Table (CSV)</FileButton>
            <FileButton href={of('term.pdf')}>On paper (PDF)</FileButton>
            <FileButton href={of('attendance.csv')}>Attendance (CSV)</FileButton>
            <Toggle on={seen} onClick={() => setSeen(!seen)}>
              When and by whom seen last
            </Toggle>
          </Stack>
        </Card>
        <Card aria-label="For a talk with the family" sx={{ display: 'grid', gap: 1 }}>
          <Typography variant="h2">For a talk with the family</Typography>
          <Typography>
            One page a child: what was learned, in words, and drawings of what comes next. It names no level
            and no other child.
          </Typography>
          <Button
            component={Link}
            to={`/class/${classId}/term/children`}
            variant="outlined"
            sx={{ justifySelf: 'start' }}
          >
            Choose a child
          </Button>
        </Card>
      </Box>
    </PageContent>
  );
}
