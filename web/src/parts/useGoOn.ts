import { useEffect, useRef } from 'react';
import { useNavigate } from 'react-router';

/** Goes on to a page when something is done; whoever has left for another one meanwhile stays there. */
export function useGoOn(): (to: string) => Promise<void> {
  const navigate = useNavigate();
  const here = useRef(false);
  useEffect(() => {
    here.current = true;
    return () => {
      here.current = false;
    };
  }, []);
  return async (to) => {
    if (here.current) await navigate(to);
  };
}
