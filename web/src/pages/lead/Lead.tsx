import Typography from '@mui/material/Typography';
import { useParams } from 'react-router';
import { $api, ofClass } from '../../api/queries';
import { useCore } from '../../core/door';
import { Read } from '../../parts/page';
import { useLocalSetting } from '../../parts/useLocalSetting';
import { Projection } from './Projection';
import { Wall } from './Wall';
import { useConductor } from './conductor';
import { useObeys } from './obeys';
import type { Drill } from './program';

/** One drill before the class: the four instruments side by side, beat by beat. */
export function Lead() {
  const { classId = '', drillId = '' } = useParams();
  const lesson = $api.useQuery('get', '/api/classes/{class}/lesson', ofClass(classId));
  return (
    <Wall>
      <Read query={lesson} what="The drill is being put up">
        {({ drills }) => {
          const found = drills.find(({ drill }) => drill.id === drillId);
          return found ? (
            <Led key={drillId} classId={classId} drill={found.drill} />
          ) : (
            <Typography>There is no such drill any more. Choose one under Lessons, Next lesson.</Typography>
          );
        }}
      </Read>
    </Wall>
  );
}

function Led({ classId, drill }: { classId: string; drill: Drill }) {
  useCore();
  const [sounds, setSounds] = useLocalSetting('lead-sounds', ['click', 'words', 'silent']);
  const [mirrored, setMirrored] = useLocalSetting('lead-mirror', ['off', 'on']);
  const conductor = useConductor(drill, sounds);
  const mirror = () => setMirrored(mirrored === 'on' ? 'off' : 'on');
  useObeys(classId, drill, conductor, mirror);
  return (
    <Projection
      classId={classId}
      drill={drill}
      conductor={conductor}
      sounds={sounds}
      onSounds={setSounds}
      mirrored={mirrored === 'on'}
      onMirror={mirror}
    />
  );
}
