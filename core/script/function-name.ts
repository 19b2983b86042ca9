/** What an operation is called where it is a function: `alignLeft` for `align-left`. */
export const functionName = (operation: string): string =>
  operation.replace(/-(.)/g, (_all, letter: string) => letter.toUpperCase());
