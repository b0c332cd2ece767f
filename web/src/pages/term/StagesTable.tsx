import Box from '@mui/material/Box';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import type { Instrument, Schemas } from '../../api/client';
import { dayWords } from '../../words/dates';
import { INSTRUMENTS, SECTIONS } from '../../words/looks';

type Term = Schemas['TermView'];
type Stage = Term['stages'][number];

/** When stages were reached, by the class and by each section: stages that nobody reached are left out. */
export function StagesTable({ term }: { term: Term }) {
  const begun = term.stages.filter(({ reached }) => reached.some(({ there }) => there > 0));
  const sections = INSTRUMENTS.filter((one) => term.children.some(({ child }) => child.instrument === one));
  return (
    <Box component="section" aria-label="When stages were reached">
      <Typography variant="h2">When stages were reached</Typography>
      <Typography color="textSecondary" sx={{ pb: 1 }}>
        {begun.length === 0
          ? 'No stage is reached yet: every required checkpoint of it at Alone.'
          : 'How many children have, and the day by which four of five had.'}
      </Typography>
      {begun.length > 0 && (
        <Box sx={{ overflowX: 'auto' }} tabIndex={0} role="region" aria-label="Stages by section">
          <Table size="small" sx={{ minWidth: 640 }}>
            <TableHead>
              <TableRow>
                <TableCell>Stage</TableCell>
                <TableCell>Class</TableCell>
                {sections.map((section) => (
                  <TableCell key={section}>{SECTIONS[section]}</TableCell>
                ))}
              </TableRow>
            </TableHead>
            <TableBody>
              {begun.map((stage) => (
                <TableRow key={stage.id}>
                  <TableCell component="th" scope="row">
                    {stage.name}
                  </TableCell>
                  <Reached stage={stage} section={undefined} />
                  {sections.map((section) => (
                    <Reached key={section} stage={stage} section={section} />
                  ))}
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </Box>
      )}
    </Box>
  );
}

function Reached({ stage, section }: { stage: Stage; section: Instrument | undefined }) {
  const found = stage.reached.find((one) => one.section === section);
  return (
    <TableCell>
      {found && found.there > 0 && (
        <>
          <strong>{found.there}</strong> of {found.of}
          {found.most && (
            <Box component="span" sx={{ color: 'text.secondary' }}>
              {' '}
              by {dayWords(found.most)}
            </Box>
          )}
        </>
      )}
    </TableCell>
  );
}
