/** What server state is kept under, in one place: whoever changes something says by these what is to be read anew. */
export const meKey = ["me"] as const;
export const symptomsKey = ["symptoms"] as const;
export const casesKey = ["cases"] as const;
export const evidenceKey = ["evidence"] as const;
export const noticesKey = ["notices"] as const;
export const remarksKey = ["remarks"] as const;
export const nudgesKey = ["nudges"] as const;
export const openClimbsKey = ["open-climbs"] as const;
export const climbKey = (climbId: string) => ["climb", climbId] as const;
export const draftKey = (playbookId: string) => ["draft", playbookId] as const;
