import { useEffect } from 'react';
import { askWhoIsSignedIn } from '../api/queries';

/** Pages of one browser share a session: when it ends in one, the others hear it. They say nothing but that. */
const CHANNEL = 'bright-row-session';

/** A session ended here. */
export function tellOtherPages(): void {
  const channel = new BroadcastChannel(CHANNEL);
  channel.postMessage('ended');
  channel.close();
}

/** Asks the server who is signed in when another page says that a session ended. */
export function useOtherPages(): void {
  useEffect(() => {
    const channel = new BroadcastChannel(CHANNEL);
    channel.onmessage = askWhoIsSignedIn;
    return () => channel.close();
  }, []);
}
