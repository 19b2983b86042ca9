/** A member of the script API, as help shows it. */
export interface ApiMember {
  readonly name: string;
  /** As it is written in TypeScript. */
  readonly signature: string;
  readonly doc: string;
  /** The type of its value, or of what it returns. */
  readonly gives: string;
  readonly isMethod: boolean;
  readonly isWritable?: boolean;
}

/** An interface of the script API. */
export interface ApiType {
  readonly name: string;
  readonly doc: string;
  readonly extends: readonly string[];
  readonly members: readonly ApiMember[];
}
