/** Short names for the shapes that the screens speak of. */
import type { Schemas } from "./client";

export type DraftView = Schemas["DraftView"];
export type Playbook = Schemas["Playbook"];
export type Step = Schemas["Step"];
export type Rung = Schemas["Rung"];
export type Judged = Schemas["Judged"];
export type RowView = Schemas["RowView"];
export type Instruction = Schemas["Instruction"];
export type FilledInstruction = Schemas["FilledInstruction"];
export type Question = Schemas["Question"];
export type Passage = Schemas["Passage"];
export type Forecast = Schemas["Forecast"];
export type EditionView = Schemas["EditionView"];
export type SymptomCard = Schemas["SymptomCard"];
export type Evidence = Schemas["Evidence"];
export type EvidenceRow = Schemas["EvidenceRow"];
export type StepEvidence = Schemas["StepEvidence"];
export type Rate = Schemas["Rate"];
export type CaseSummary = Schemas["CaseSummary"];
export type CaseView = Schemas["CaseView"];
export type ClimbView = Schemas["ClimbView"];
export type ClimbSummary = Schemas["ClimbSummary"];
export type Answer = Schemas["Answer"];
export type Move = Schemas["RecordMove"]["move"];
export type Fact = Schemas["Fact"];
export type Me = Schemas["Me"];
