import Alert from '@mui/material/Alert';
import { useState } from 'react';
import { ApiProblem, sendFile, type Schemas, type TuneWishes } from '../../api/client';
import { FilePick } from '../../parts/FilePick';
import { listed, sentence } from '../../words/text';

type Read = Schemas['TuneRead'];

/** What of a file's music is not in the tune. */
const LEFT_OUT: Record<Schemas['LeftOutOfTune'], string> = {
  voices: 'parts and voices beside the first',
  chords: 'all but the first note of chords',
  grace: 'grace notes',
  repeats: 'repeats: each bar stands here once',
  tunes: 'further tunes',
};

/** A tune out of a file of a notation program, laid out as one of our own; nothing is kept of the file. */
export function TuneFile({ classId, onRead }: { classId: string; onRead: (wishes: TuneWishes) => void }) {
  const [read, setRead] = useState<{ file: string; tune: Read }>();
  const [unread, setUnread] = useState<string>();
  const take = async (file: File) => {
    setUnread(undefined);
    setRead(undefined);
    try {
      const tune = await sendFile<Read>(`/api/classes/${classId}/notes/file`, {}, file);
      const { name, notes, key, meter, tempo } = tune;
      setRead({ file: file.name, tune });
      onRead({
        notes,
        key,
        meter,
        name: name || withoutEnding(file.name),
        ...(tempo !== undefined && { tempo }),
      });
    } catch (reason) {
      const details = reason instanceof ApiProblem ? reason.details.join(' ') : '';
      setUnread(details || (reason instanceof Error ? reason.message : String(reason)));
    }
  };
  return (
    <>
      <FilePick
        label="Read a tune from a file (MusicXML, ABC)"
        name={read?.file}
        accept=".musicxml,.xml,.mxl,.abc,.txt"
        busy={false}
        onStop={() => undefined}
        onFile={(file) => void take(file)}
      />
      {unread && <Alert severity="error">{unread}</Alert>}
      {read && read.tune.leftOut.length > 0 && (
        <Alert severity="info">
          Not taken from the file: {sentence(listed(read.tune.leftOut.map((left) => LEFT_OUT[left])))}
        </Alert>
      )}
    </>
  );
}

const withoutEnding = (name: string) => name.replace(/\.[^.]+$/, '').slice(0, 60);
