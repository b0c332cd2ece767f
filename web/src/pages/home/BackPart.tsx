import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Paper from '@mui/material/Paper';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import type { Instrument, Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { FromHome } from '../../parts/FromHome';
import { InstrumentChips } from '../../parts/InstrumentChips';
import { PageContent, Read } from '../../parts/page';
import { dayWords } from '../../words/dates';
import { count } from '../../words/text';

type Home = Schemas['HomeView'];
type Child = Schemas['ChildAtHome'];

/** What came back with the cards: everybody's, or of the child whose code was read. */
export function BackPart() {
  const { classId = '' } = useParams();
  const home = $api.useQuery('get', '/api/classes/{class}/home', ofClass(classId));
  return (
    <Read query={home} what="What came back is being looked up">
      {(read) => <CameBack classId={classId} home={read} />}
    </Read>
  );
}

function CameBack({ classId, home }: { classId: string; home: Home }) {
  const [only, setOnly] = useState<Instrument>();
  const [query] = useSearchParams();
  const asked = query.get('child');
  const one = home.children.filter(({ child }) => child.id === asked);
  if (asked !== null) return <OneChild classId={classId} found={one[0]} />;
  const children = home.children.filter(({ child }) => only === undefined || child.instrument === only);
  const back = home.children.filter((child) => child.back !== undefined).length;
  return (
    <PageContent name="Back again" bar={<InstrumentChips only={only} onOnly={setOnly} />}>
      <Typography sx={{ pb: 1 }}>
        In the week from {dayWords(home.week)}: {back} of {count(home.children.length, 'child', 'children')}{' '}
        so far. One tap for the days, one for how it was; the same tap again takes it back. A card’s code
        opens its child here.
      </Typography>
      {children.length === 0 ? (
        <Typography>{only ? `Nobody plays the ${only}.` : 'Nobody is in this class yet.'}</Typography>
      ) : (
        <Paper variant="outlined" component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
          {children.map((child) => (
            <Row key={child.child.id} classId={classId} one={child} />
          ))}
        </Paper>
      )}
    </PageContent>
  );
}

function Row({ classId, one }: { classId: string; one: Child }) {
  return (
    <Box
      component="li"
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: '1fr', md: '11rem 1fr' },
        gap: 1,
        alignItems: 'center',
        px: 1.5,
        py: 1,
        '& + &': { borderTop: 1, borderColor: 'divider' },
      }}
    >
      <Box>
        <Typography sx={{ fontWeight: 700 }}>{one.child.name}</Typography>
        <Typography color="textSecondary">{one.child.instrument}</Typography>
      </Box>
      <FromHome classId={classId} child={one.child} back={one.back ?? {}} />
    </Box>
  );
}

/** The child whose card somebody holds. */
function OneChild({ classId, found }: { classId: string; found: Child | undefined }) {
  const all = (
    <Button component={Link} to={`/class/${classId}/home/back`}>
      Everybody
    </Button>
  );
  return (
    <PageContent name="Back again" bar={all}>
      {found ? (
        <Paper variant="outlined" component="ul" sx={{ listStyle: 'none', m: 0, p: 0 }}>
          <Row classId={classId} one={found} />
        </Paper>
      ) : (
        <Alert severity="info">The child of this card is not in this class any more.</Alert>
      )}
    </PageContent>
  );
}
