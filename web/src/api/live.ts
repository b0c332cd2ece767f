import { useEffect, useRef } from 'react';
import type { Schemas } from './client';
import { askWhoIsSignedIn, classesQuery, queryClient, refreshClass, type Topic } from './queries';

/** The server sends a pulse every 15 s; after this long without one the line is dead. */
const SILENCE = 40_000;
const AGAIN = 3_000;

/** What a page of the same account says to this one. */
export type LeadSignal = Schemas['LeadSignal'];

/**
 * Keeps a class up to date while it is on the screen, and catches up after the line was cut. `onLead` hears what another page of
 * the same account says while a drill is led.
 */
export function useLive(classId: string, onLead?: (signal: LeadSignal) => void): void {
  const hear = useRef(onLead);
  useEffect(() => {
    hear.current = onLead;
  }, [onLead]);
  useEffect(() => {
    let source: EventSource | undefined;
    let timer = 0;
    let closed = false;
    const listen = () => {
      window.clearTimeout(timer);
      source?.close();
      if (closed) return;
      source = new EventSource(`/api/classes/${classId}/live`);
      const alive = () => {
        window.clearTimeout(timer);
        timer = window.setTimeout(listen, SILENCE);
      };
      alive();
      source.addEventListener('pulse', alive);
      // Also the first event of every connection: what happened meanwhile is read then.
      source.addEventListener('changed', ({ data }: MessageEvent<Topic>) => {
        alive();
        refreshClass(classId, data).catch(() => undefined);
      });
      source.addEventListener('lead', ({ data }: MessageEvent<string>) => {
        alive();
        hear.current?.(JSON.parse(data) as LeadSignal);
      });
      source.addEventListener('error', () => {
        // The browser tries again by itself unless the server refused.
        if (source?.readyState !== EventSource.CLOSED) return;
        window.clearTimeout(timer);
        // It refuses whoever is not signed in any more, or may not open the class any more.
        askWhoIsSignedIn();
        void queryClient.invalidateQueries({ queryKey: classesQuery.queryKey });
        timer = window.setTimeout(listen, AGAIN);
      });
    };
    listen();
    window.addEventListener('online', listen);
    return () => {
      closed = true;
      window.removeEventListener('online', listen);
      window.clearTimeout(timer);
      source?.close();
    };
  }, [classId]);
}
