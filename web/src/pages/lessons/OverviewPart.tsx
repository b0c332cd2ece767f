import Stack from '@mui/material/Stack';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import { Link, useParams } from 'react-router';
import type { Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { DrawnFor, LookDrawing } from '../../parts/drawings';
import { Card, PageContent, Read } from '../../parts/page';
import { STRANDS } from '../../words/looks';
import { capital, count } from '../../words/text';
import { Spindle } from './Spindle';

type Bottleneck = Schemas['BottleneckView'];
type Overview = Schemas['ClassOverview'];
type Child = Schemas['ChildName'];

const Name = styled(Link)(({ theme }) => ({
  display: 'inline-flex',
  alignItems: 'center',
  minHeight: 44,
  padding: theme.spacing(0, 1.25),
  borderRadius: '6px 6px 16px 16px',
  border: `1px solid ${theme.vars.palette.divider}`,
  background: theme.vars.palette.background.default,
  color: theme.vars.palette.text.primary,
  textDecoration: 'none',
  '& small': { color: theme.vars.palette.text.secondary, marginLeft: 6, fontSize: '0.85rem' },
  '&:hover': { borderColor: theme.vars.palette.text.secondary },
}));

/** Children by name, each a way to it. */
export function Names({ classId, children }: { classId: string; children: Child[] }) {
  return (
    <Stack direction="row" spacing={0.75} sx={{ flexWrap: 'wrap' }}>
      {children.map((child) => (
        <Name key={child.id} to={`/class/${classId}/room/${child.id}`}>
          {child.name}
          <small>{child.instrument}</small>
        </Name>
      ))}
    </Stack>
  );
}

/** The class read as a whole: what holds it back, by section and strand, and small groups. */
export function OverviewPart() {
  const { classId = '' } = useParams();
  const overview = $api.useQuery('get', '/api/classes/{class}/overview', ofClass(classId));
  return (
    <PageContent name="The class as a whole">
      <Read query={overview} what="The class is being read">
        {(read) =>
          read.children === 0 ? (
            <Typography sx={{ maxWidth: 560 }}>
              Nobody is in this class yet. Add the children under Set-up; as soon as the first observations
              are made, this page says what the class is ready for.
            </Typography>
          ) : (
            <Whole classId={classId} read={read} />
          )
        }
      </Read>
    </PageContent>
  );
}

function Whole({ classId, read }: { classId: string; read: Overview }) {
  return (
    <Box sx={{ display: 'grid', gap: 3, maxWidth: 1180, gridTemplateColumns: 'minmax(0, 1fr)' }}>
      <Box component="section" aria-label="What holds the class back">
        <Typography variant="h2" sx={{ pb: 1 }}>
          What holds the class back
        </Typography>
        {read.bottlenecks.length === 0 ? (
          <Typography>Nobody waits: every open stage is passed.</Typography>
        ) : (
          <Box
            sx={{
              display: 'grid',
              gap: 1.5,
              gridTemplateColumns: {
                xs: 'minmax(0, 1fr)',
                sm: 'repeat(2, minmax(0, 1fr))',
                lg: 'repeat(3, minmax(0, 1fr))',
              },
            }}
          >
            {read.bottlenecks.map((bottleneck) => (
              <HolderCard
                key={bottleneck.checkpoint}
                classId={classId}
                bottleneck={bottleneck}
                of={read.children}
              />
            ))}
          </Box>
        )}
      </Box>
      <Box component="section" aria-label="Small groups">
        <Typography variant="h2">Small groups</Typography>
        <Typography sx={{ color: 'text.secondary', pb: 1 }}>
          {read.groups.length === 0
            ? 'No two children share an open cause.'
            : 'Children who share an open cause; each child stands in one group.'}
        </Typography>
        <Box
          sx={{
            display: 'grid',
            gap: 1.5,
            gridTemplateColumns: { xs: 'minmax(0, 1fr)', sm: 'repeat(2, minmax(0, 1fr))' },
          }}
        >
          {read.groups.map((group) => (
            <Card
              key={group.children.map(({ id }) => id).join()}
              aria-label={`${group.name}, ${count(group.children.length, 'child', 'children')}`}
              sx={{ p: 1.5, display: 'grid', gap: 1, alignContent: 'start' }}
            >
              <Box>
                <Typography variant="h3">{group.name}</Typography>
                {group.checkpointName !== group.name && (
                  <Typography sx={{ color: 'text.secondary' }}>{group.checkpointName}</Typography>
                )}
              </Box>
              <Box>{group.help}</Box>
              <Names classId={classId}>{group.children}</Names>
            </Card>
          ))}
        </Box>
      </Box>
      <Sections read={read} />
    </Box>
  );
}

/** How many wait, in words. */
function waitWords({ below, unseen }: Bottleneck): string {
  const parts = [
    ...(below.length > 0 ? [`${below.length} below Prompted`] : []),
    ...(unseen.length > 0 ? [`${unseen.length} not looked at yet`] : []),
  ];
  return parts.join(', ');
}

function HolderCard({ classId, bottleneck, of }: { classId: string; bottleneck: Bottleneck; of: number }) {
  const all = [...bottleneck.below, ...bottleneck.unseen];
  return (
    <Card aria-label={bottleneck.name} sx={{ p: 1.5 }}>
      {all[0] && (
        <Box sx={{ float: 'right', pl: 1 }}>
          {/* As it looks on the instrument that waits there first. */}
          <DrawnFor classId={classId} instrument={all[0].instrument}>
            <LookDrawing
              ofClass
              size={84}
              checkpoint={bottleneck.checkpoint}
              name={bottleneck.name}
              lookFor={`${bottleneck.name}, ${all[0].instrument}`}
            />
          </DrawnFor>
        </Box>
      )}
      <Stack direction="row" spacing={1} sx={{ alignItems: 'baseline' }}>
        <Typography variant="h3" sx={{ flex: 1 }}>
          {bottleneck.name}
        </Typography>
        <Box>
          <strong>{all.length}</strong> of {of}
        </Box>
      </Stack>
      <Box sx={{ color: 'text.secondary' }}>{bottleneck.stageName}</Box>
      <Box sx={{ py: 0.5 }}>{waitWords(bottleneck)}</Box>
      <Box component="details">
        <Box component="summary" sx={{ lineHeight: '44px', cursor: 'pointer' }}>
          Who
        </Box>
        {bottleneck.below.length > 0 && <Names classId={classId}>{bottleneck.below}</Names>}
        {bottleneck.unseen.length > 0 && (
          <>
            <Box sx={{ py: 0.5, color: 'text.secondary' }}>Not looked at yet</Box>
            <Names classId={classId}>{bottleneck.unseen}</Names>
          </>
        )}
      </Box>
    </Card>
  );
}

function Sections({ read }: { read: Overview }) {
  return (
    <Box component="section" aria-label="By section">
      <Typography variant="h2" sx={{ pb: 1 }}>
        By section
      </Typography>
      <Box sx={{ overflowX: 'auto' }} tabIndex={0} role="region" aria-label="Sections and strands">
        <Table sx={{ minWidth: 720 }}>
          <TableHead>
            <TableRow>
              <TableCell scope="col">Section</TableCell>
              {(['hold', 'bow', 'frame', 'tape'] as const).map((strand) => (
                <TableCell key={strand} scope="col">
                  {STRANDS[strand]}
                </TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {read.sections.map((section) => (
              <TableRow key={section.instrument}>
                <TableCell component="th" scope="row">
                  {capital(section.instrument)}
                  <Box component="span" sx={{ display: 'block', fontWeight: 400, color: 'text.secondary' }}>
                    {count(section.children, 'child', 'children')}
                  </Box>
                </TableCell>
                {section.strands.map((cell) => (
                  <TableCell key={cell.strand}>
                    <Stack direction="row" spacing={1} sx={{ alignItems: 'center' }}>
                      <Spindle glow={cell.glow} />
                      <Box sx={{ lineHeight: 1.3 }}>
                        {cell.atStages.map((at) => (
                          <Box key={at.number ?? 0}>
                            <strong>{at.children}</strong> {at.name ? `at ${at.name}` : 'all done'}
                          </Box>
                        ))}
                        {cell.bottleneck && (
                          <Box sx={{ color: 'text.secondary' }}>
                            waits at {cell.bottleneck.name} (
                            {cell.bottleneck.below.length + cell.bottleneck.unseen.length})
                          </Box>
                        )}
                      </Box>
                    </Stack>
                  </TableCell>
                ))}
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </Box>
    </Box>
  );
}
