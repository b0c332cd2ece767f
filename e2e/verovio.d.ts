declare module 'verovio/wasm' {
  const create: () => Promise<unknown>;
  export default create;
}

declare module 'verovio/esm' {
  /** As much of it as the journeys use. */
  export class VerovioToolkit {
    constructor(module: unknown);
    loadData(data: string): boolean;
    renderToSVG(page: number): string;
  }
}
