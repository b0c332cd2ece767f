import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import { useParams } from 'react-router';
import type { Schemas } from '../../api/client';
import { $api, ofClass } from '../../api/queries';
import { PageContent, Read } from '../../parts/page';

interface Props {
  name: string;
  children: (term: Schemas['TermView'], classId: string) => ReactNode;
}

/** A part of the page that shows a class's term, or what to do first where there is none. */
export function TermRead({ name, children }: Props) {
  const { classId = '' } = useParams();
  const term = $api.useQuery('get', '/api/classes/{class}/term', ofClass(classId));
  return (
    <PageContent name={name}>
      <Read query={term} what="The term is being read">
        {(read) =>
          read.children.length === 0 ? (
            <Typography sx={{ maxWidth: 560 }}>
              Nobody is in this class yet. Add the children under Set-up: from the first observation on, this
              page shows how they grow.
            </Typography>
          ) : (
            children(read, classId)
          )
        }
      </Read>
    </PageContent>
  );
}
