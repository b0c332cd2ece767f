import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import { styled } from '@mui/material/styles';
import { useState } from 'react';
import { useParams } from 'react-router';
import type { EditedCheckpoint, EditedStage, Instrument } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { DrawnFor, LookDrawing } from '../../parts/drawings';
import { OneOf } from '../../parts/OneOf';
import { useDirector } from '../../parts/useDirector';
import { useLocalSetting } from '../../parts/useLocalSetting';
import { FileButton, PageContent, Read } from '../../parts/page';
import { INSTRUMENTS, STRANDS } from '../../words/looks';
import { capital, count } from '../../words/text';
import { CheckpointDialog } from './CheckpointDialog';
import { OwnDialog } from './OwnDialog';

const Row = styled('li')(({ theme }) => ({
  listStyle: 'none',
  display: 'grid',
  gridTemplateColumns: '190px minmax(0, 1fr) 96px',
  gap: theme.spacing(0, 1.5),
  alignItems: 'center',
  minHeight: 52,
  padding: theme.spacing(0.75, 1),
  borderTop: `1px solid ${theme.vars.palette.divider}`,
  lineHeight: 1.3,
  '& .tags': { color: theme.vars.palette.text.secondary, fontSize: '0.92rem' },
  '&.off .texts': { color: theme.vars.palette.text.secondary },
  [theme.breakpoints.down('sm')]: {
    gridTemplateColumns: 'minmax(0, 1fr) auto',
    '& .texts': { gridColumn: '1 / -1' },
    '& > :last-child': { gridRow: 1, gridColumn: 2 },
  },
}));

const TRAITS = {
  required: 'the stage waits for it',
  far: 'seen from afar',
  play: 'played',
  own: 'added by the class',
  off: 'switched off',
  reworded: 'in the class’s words',
} as const;

/** The checklist as one instrument reads it, with everything the class may change. */
export function ChecklistPart() {
  const { classId = '' } = useParams();
  const checklist = $api.useQuery('get', '/api/classes/{class}/checklist', ofClass(classId));
  const [instrument, setInstrument] = useState<Instrument>('violin');
  const [open, setOpen] = useState<{ checkpoint?: EditedCheckpoint; stage: EditedStage } | 'new'>();
  const director = useDirector(classId);
  return (
    <DrawnFor classId={classId} instrument={instrument}>
      <PageContent
        name="Checkpoints"
        bar={
          <>
            <OneOf
              name="As read on"
              value={instrument}
              options={INSTRUMENTS.map((one) => [one, capital(one)] as const)}
              onChoose={setInstrument}
            />
            <Box sx={{ flex: 1, color: 'text.secondary' }}>
              {checklist.data &&
                (checklist.data.changed === 0
                  ? 'As it ships.'
                  : `${count(checklist.data.changed, 'checkpoint')} of the class’s own making.`)}
            </Box>
            {director && (
              <Button variant="outlined" aria-haspopup="dialog" onClick={() => setOpen('new')}>
                Add a checkpoint
              </Button>
            )}
          </>
        }
      >
        <Read query={checklist} what="The checklist is being read">
          {(read) => (
            <>
              <WallSheets classId={classId} instrument={instrument} />
              <Box sx={{ display: 'grid', gap: 2.5, maxWidth: 1180 }}>
                {read.stages.map((stage) => (
                  <Box
                    component="section"
                    key={stage.id}
                    aria-label={`${stage.strandName} ${stage.number}, ${stage.name}`}
                  >
                    <Typography variant="h3" component="h2" sx={{ pb: 0.5 }}>
                      {stage.strandName} {stage.number}, {stage.name}
                    </Typography>
                    <Box
                      component="ul"
                      sx={{ m: 0, p: 0, bgcolor: 'background.paper', border: 1, borderColor: 'divider' }}
                    >
                      {stage.checkpoints.map((checkpoint) => (
                        <CheckpointLine
                          key={checkpoint.id}
                          checkpoint={checkpoint}
                          instrument={instrument}
                          onOpen={director ? () => setOpen({ checkpoint, stage }) : undefined}
                        />
                      ))}
                    </Box>
                  </Box>
                ))}
              </Box>
              {open && open !== 'new' && open.checkpoint && !open.checkpoint.traits.includes('own') && (
                <CheckpointDialog
                  classId={classId}
                  checkpoint={open.checkpoint}
                  onClose={() => setOpen(undefined)}
                />
              )}
              {open && (open === 'new' || open.checkpoint?.traits.includes('own')) && (
                <OwnDialog
                  classId={classId}
                  stages={read.stages}
                  {...(open !== 'new' && { known: open })}
                  onClose={() => setOpen(undefined)}
                />
              )}
            </>
          )}
        </Read>
      </PageContent>
    </DrawnFor>
  );
}

const PAPERS = [
  ['a4', 'A4'],
  ['a3', 'A3'],
  ['letter', 'Letter'],
  ['tabloid', 'Tabloid'],
] as const;

/** One strand of one instrument for the classroom's wall, in the class's options. */
function WallSheets({ classId, instrument }: { classId: string; instrument: Instrument }) {
  const [paper, setPaper] = useLocalSetting('wall-paper', ['a4', 'a3', 'letter', 'tabloid']);
  return (
    <Stack
      direction="row"
      spacing={1}
      useFlexGap
      role="group"
      aria-label="Sheets for the wall"
      sx={{ flexWrap: 'wrap', alignItems: 'center', pb: 2 }}
    >
      <strong>For the wall, {instrument}:</strong>
      {(['hold', 'bow', 'frame'] as const).map((strand) => (
        <FileButton
          key={strand}
          href={`/api/classes/${classId}/wall.pdf?strand=${strand}&instrument=${instrument}&paper=${paper}`}
        >
          {STRANDS[strand]} (PDF)
        </FileButton>
      ))}
      <OneOf name="Paper" value={paper} options={PAPERS} onChoose={setPaper} />
    </Stack>
  );
}

interface LineProps {
  checkpoint: EditedCheckpoint;
  instrument: Instrument;
  onOpen: (() => void) | undefined;
}

function CheckpointLine({ checkpoint, instrument, onOpen }: LineProps) {
  const text = checkpoint.texts.find(({ instruments }) => instruments.includes(instrument));
  const off = checkpoint.traits.includes('off');
  const tags = checkpoint.traits.map((trait) => TRAITS[trait]);
  return (
    <Row className={off || !text ? 'off' : undefined}>
      <Stack direction="row" spacing={1.25} sx={{ alignItems: 'center' }}>
        {text && (
          <LookDrawing
            size={64}
            checkpoint={checkpoint.id}
            name={checkpoint.name}
            lookFor={text.now.lookFor}
            proof={text.now.proof}
            cue={text.now.cue}
          />
        )}
        <Box>
          <strong>{checkpoint.name}</strong>
          <Box className="tags">
            {checkpoint.seconds} s{tags.length > 0 && `, ${tags.join(', ')}`}
          </Box>
        </Box>
      </Stack>
      <Box className="texts">
        {text ? (
          <>
            {text.now.lookFor}
            <Box className="tags">
              {text.now.proof && <>Proof: {text.now.proof}. </>}Say: “{text.now.cue}”
            </Box>
          </>
        ) : checkpoint.leftOut.includes(instrument) ? (
          'Left out by a chosen option; its observations are kept.'
        ) : (
          'Not for this instrument.'
        )}
      </Box>
      {onOpen ? (
        <Button
          variant="outlined"
          aria-haspopup="dialog"
          aria-label={`Change ${checkpoint.name}`}
          onClick={onOpen}
        >
          Change
        </Button>
      ) : (
        <span />
      )}
    </Row>
  );
}
