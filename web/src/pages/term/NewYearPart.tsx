import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useParams } from 'react-router';
import { $api, ofClass } from '../../api/queries';
import { PageContent, Read } from '../../parts/page';
import { HandOver } from './HandOver';
import { MovingOn } from './MovingOn';
import { StillOut } from './StillOut';
import { Afterwards } from './Afterwards';

/** The end of a year: instruments come back, children move on with their history, the class is kept to be read. */
export function NewYearPart() {
  const { classId = '' } = useParams();
  const roster = $api.useQuery('get', '/api/classes/{class}/roster', ofClass(classId));
  return (
    <PageContent name="New year">
      <Read query={roster} what="The roster is being read">
        {(read) => (
          <Box sx={{ display: 'grid', gap: 2, maxWidth: 820, gridTemplateColumns: 'minmax(0, 1fr)' }}>
            <Typography>
              Print each family’s page first: a child’s history moves with it. When the year is over, or the
              class is archived, its picture shows those too who have moved on.
            </Typography>
            <StillOut classId={classId} roster={read} />
            <MovingOn classId={classId} roster={read} />
            <HandOver classId={classId} roster={read} />
            <Afterwards classId={classId} />
          </Box>
        )}
      </Read>
    </PageContent>
  );
}
