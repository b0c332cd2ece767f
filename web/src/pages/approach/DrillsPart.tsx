import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import { useState } from 'react';
import { useParams } from 'react-router';
import type { Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { PageContent, Read } from '../../parts/page';
import { useDirector } from '../../parts/useDirector';
import { STRANDS } from '../../words/looks';
import { capital, count } from '../../words/text';
import { DrillDialog } from './DrillDialog';

type Known = Schemas['EditedDrill'];

const Row = styled('li')(({ theme }) => ({
  listStyle: 'none',
  display: 'grid',
  gridTemplateColumns: 'minmax(0, 1fr) 96px',
  gap: theme.spacing(0, 1.5),
  alignItems: 'center',
  minHeight: 52,
  padding: theme.spacing(0.75, 1),
  borderTop: `1px solid ${theme.vars.palette.divider}`,
  lineHeight: 1.3,
  '& .tags': { color: theme.vars.palette.text.secondary, fontSize: '0.92rem' },
  '&.off strong': { color: theme.vars.palette.text.secondary, fontWeight: 400 },
}));

/** `60 a minute, 2 rounds, cello and bass only, added by the class`. */
function tags({ drill, own, off, shared }: Known): string {
  const some = drill.on.length < 4;
  return [
    `${drill.tempo} beats a minute`,
    count(drill.rounds, 'round'),
    ...(some ? [`${capital(drill.on.join(', '))} only`] : []),
    ...(own ? ['added by the class'] : []),
    ...(shared ? ['in the class’s words'] : []),
    ...(off ? ['switched off'] : []),
  ].join(', ');
}

/** Every drill of the class: worded otherwise, switched off, added. */
export function DrillsPart() {
  const { classId = '' } = useParams();
  const drills = $api.useQuery('get', '/api/classes/{class}/drills', ofClass(classId));
  const checklist = $api.useQuery('get', '/api/classes/{class}/checklist', ofClass(classId));
  const [open, setOpen] = useState<Known | 'new'>();
  const director = useDirector(classId);
  return (
    <PageContent
      name="Drills"
      bar={
        director && (
          <Button variant="outlined" aria-haspopup="dialog" onClick={() => setOpen('new')}>
            Add a drill
          </Button>
        )
      }
    >
      <Read query={drills} what="The drills are being read">
        {(read) => (
          <Box sx={{ display: 'grid', gap: 2.5, maxWidth: 980 }}>
            {(['hold', 'bow', 'frame'] as const).map((strand) => (
              <Box component="section" key={strand} aria-label={STRANDS[strand]}>
                <Typography variant="h3" component="h2" sx={{ pb: 0.5 }}>
                  {STRANDS[strand]}
                </Typography>
                <Box
                  component="ul"
                  sx={{ m: 0, p: 0, bgcolor: 'background.paper', border: 1, borderColor: 'divider' }}
                >
                  {read.drills
                    .filter(({ drill }) => drill.strand === strand)
                    .map((known) => (
                      <Row key={known.drill.id} className={known.off ? 'off' : undefined}>
                        <Box>
                          <strong>{known.drill.name}</strong> “{known.drill.aim}”
                          <Box className="tags">{tags(known)}</Box>
                        </Box>
                        {director ? (
                          <Button
                            variant="outlined"
                            aria-haspopup="dialog"
                            aria-label={`Change ${known.drill.name}`}
                            onClick={() => setOpen(known)}
                          >
                            Change
                          </Button>
                        ) : (
                          <span />
                        )}
                      </Row>
                    ))}
                </Box>
              </Box>
            ))}
          </Box>
        )}
      </Read>
      {open && checklist.data && (
        <DrillDialog
          classId={classId}
          stages={checklist.data.stages}
          {...(open !== 'new' && { known: open })}
          onClose={() => setOpen(undefined)}
        />
      )}
    </PageContent>
  );
}
