/** An answer that is JSON text already: it is sent as it is. */
export class ReadyJson {
  constructor(readonly json: string) {}
}
