import { bright, DEMO, EMPTY, sql } from './server.ts';

/** Makes the databases that journeys clone, once a run. */
export default function setup(): void {
  for (const database of [DEMO, EMPTY]) {
    sql(`drop database if exists ${database}`);
    sql(`create database ${database}`);
    bright('migrate', database);
  }
  bright('demo', DEMO);
}
