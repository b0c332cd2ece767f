import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { v7 as uuid } from 'uuid';
import { asError, sendFile, type Schemas } from '../../api/client';
import { classesQuery, queryClient } from '../../api/queries';
import { ChooseChildren } from '../../parts/ChooseChildren';
import { FilePick } from '../../parts/FilePick';
import { Card, PageContent } from '../../parts/page';
import { dayWords } from '../../words/dates';
import { count } from '../../words/text';

type Handed = Schemas['HandoverView'];

/** A class that another school handed over: first what is in the file, then the children whose families agree. */
export function TakeOverPart() {
  const { programId = '' } = useParams();
  const [file, setFile] = useState<File>();
  const [handed, setHanded] = useState<Handed>();
  const [without, setWithout] = useState<ReadonlySet<string>>(new Set());
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string>();
  const [done, setDone] = useState<string>();
  // Of the file that was chosen: it becomes one class, however often it is sent.
  const [classId, setClassId] = useState(() => uuid());
  const under = useRef<AbortController>(undefined);
  const send = async (sent: File, query: Record<string, string>): Promise<Handed | undefined> => {
    under.current?.abort();
    const controller = new AbortController();
    under.current = controller;
    setBusy(true);
    setError(undefined);
    try {
      return await sendFile<Handed>(`/api/programs/${programId}/handover`, query, sent, controller.signal);
    } catch (reason) {
      if (!controller.signal.aborted) setError(asError(reason).message);
      return undefined;
    } finally {
      if (under.current === controller) setBusy(false);
    }
  };
  const look = async (next: File) => {
    setFile(next);
    setHanded(undefined);
    setDone(undefined);
    setWithout(new Set());
    setClassId(uuid());
    setHanded(await send(next, {}));
  };
  const wanted = handed?.children.filter(({ id }) => !without.has(id)) ?? [];
  const take = async () => {
    if (!file || !handed) return;
    const children = wanted.map(({ id }) => id).join(',');
    const taken = await send(file, { digest: handed.digest, class: classId, children });
    if (taken === undefined) return;
    setDone(taken.name);
    await queryClient.invalidateQueries(classesQuery);
  };
  const toggle = (id: string) => {
    const next = new Set(without);
    if (!next.delete(id)) next.add(id);
    setWithout(next);
  };
  return (
    <PageContent name="Take in a class">
      <Card sx={{ display: 'grid', gap: 1.5, maxWidth: 820 }} aria-label="A class that was handed over">
        <Typography>
          A teacher at another school made the file under Term, New year. Nothing is kept until you take it
          in; untick whoever does not come to you.
        </Typography>
        <FilePick
          label="Choose the file (.zip)"
          name={file?.name}
          accept=".zip"
          busy={busy}
          onStop={() => under.current?.abort()}
          onFile={(next) => void look(next)}
        />
        {error && <Alert severity="error">{error}</Alert>}
        {handed && done === undefined && (
          <>
            <Typography variant="h2">{handed.name}</Typography>
            <Typography>
              Taken out on {dayWords(handed.madeAt)}. With each child comes everything that was seen of it.
            </Typography>
            <ChooseChildren
              name="Who comes"
              children={handed.children.map(({ id, name, observations }) => ({
                id,
                name,
                more: count(observations, 'look'),
              }))}
              chosen={(id) => !without.has(id)}
              disabled={busy}
              onToggle={toggle}
            />
            <Button
              variant="contained"
              loading={busy}
              disabled={wanted.length === 0}
              onClick={() => void take()}
              sx={{ justifySelf: 'start' }}
            >
              Take in {count(wanted.length, 'child', 'children')}
            </Button>
          </>
        )}
        {done !== undefined && (
          <Alert severity="success">
            {done} is here now, as a class of its own. <Link to={`/class/${classId}/room`}>Open it</Link>,
            give it its days under Approach, Calendar, and lend instruments under Set-up.
          </Alert>
        )}
      </Card>
    </PageContent>
  );
}
