import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Schemas } from '../../api/client';
import { classesQuery } from '../../api/queries';
import { ChooseChildren } from '../../parts/ChooseChildren';
import { Card, FileButton } from '../../parts/page';
import { count } from '../../words/text';

interface Props {
  classId: string;
  roster: Schemas['Roster'];
}

/** The class as a file for a teacher at another school: only the children whose families agree. */
export function HandOver({ classId, roster }: Props) {
  const classes = useQuery(classesQuery);
  const owner = classes.data?.find(({ id }) => id === classId)?.role === 'owner';
  const [agreed, setAgreed] = useState<ReadonlySet<string>>(new Set());
  const toggle = (id: string) => {
    const next = new Set(agreed);
    if (!next.delete(id)) next.add(id);
    setAgreed(next);
  };
  if (!owner || roster.children.length === 0) return null;
  const all = agreed.size === roster.children.length;
  const ids = [...agreed].join(',');
  return (
    <Card aria-label="Hand over" sx={{ display: 'grid', gap: 1.5 }}>
      <Typography variant="h2">Hand over to another school</Typography>
      <Typography>
        Tick whose family agrees. The file holds what was seen of them, how the class works, and the names of
        those who looked; no addresses, no instruments. Another Bright Row takes it in under School, Classes.
        Send it as the school’s rules say: it is not encrypted.
      </Typography>
      <ChooseChildren
        name="Whose family agrees"
        children={roster.children}
        chosen={(id) => agreed.has(id)}
        onToggle={toggle}
      />
      {agreed.size > 0 && (
        <Box>
          <FileButton href={`/api/classes/${classId}/handover.zip?children=${ids}`}>
            {all ? 'Everybody' : count(agreed.size, 'child', 'children')} (.zip)
          </FileButton>
        </Box>
      )}
    </Card>
  );
}
