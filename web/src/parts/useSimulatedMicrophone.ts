import { useQuery } from '@tanstack/react-query';
import { sessionQuery } from '../api/queries';

/** Whether the address with which the application was opened asks for it: its other pages have other addresses. */
const asked = new URLSearchParams(window.location.search).get('microphone') === 'simulated';

/** Whether a simulated instrument stands in for the microphone: where the address says `microphone=simulated`, and only in the demo school. */
export function useSimulatedMicrophone(): boolean {
  const { data: session } = useQuery({ ...sessionQuery, enabled: asked });
  return asked && session?.demo === true;
}
