import Button from '@mui/material/Button';
import { useParams } from 'react-router';
import type { Instrument } from '../../api/client';
import { SoundEar } from '../../parts/SoundEar';
import { useTunedStrings } from '../../parts/useTunedStrings';
import { BY_MICROPHONE, overWords } from '../../words/listening';
import { capital } from '../../words/text';

interface Props {
  instrument: Instrument;
  /** Takes what was heard as the note that goes with the next observation. */
  onNote: (heard: string) => void;
}

/** Does it ring, how is the tone, at a child's chair: what is heard is noted only with a tap. */
export function VisitEar({ instrument, onNote }: Props) {
  const { classId = '' } = useParams();
  const tuned = useTunedStrings(classId, instrument);
  if (!tuned) return null;
  return (
    <SoundEar
      instrument={instrument}
      openHz={tuned.map(({ hz }) => hz)}
      after={(over) =>
        over.verdict && (
          <Button
            variant="contained"
            sx={{ justifySelf: 'start', minHeight: 44 }}
            onClick={() => onNote(`${overWords(over)} ${capital(BY_MICROPHONE)}.`)}
          >
            Note it
          </Button>
        )
      }
    />
  );
}
