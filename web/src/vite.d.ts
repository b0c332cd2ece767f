/// <reference types="vite/client" />

/** Which description of the API these pages were built for. */
declare const __API__: string;
