/** Short names for the shapes that the screens speak of. */
import type { Schemas } from "./client";

/** The figures of one revision of a draft, as the server tells them. */
export type DraftFigures = Schemas["DraftView"];
/** The same as it is shown: while it is behind, today's rows with figures of a state before. keys: of the rows that the
 * figures were made of, by their path there. */
export type DraftView = DraftFigures & { isBehind: boolean; keys: Record<string, string> };
export type Bond = Schemas["BondView"];
export type DraftReview = Schemas["DraftReview"];
export type Playbook = Schemas["Playbook"];
export type Step = Schemas["Step"];
export type HazardKind = Schemas["Hazard"]["kind"];
export type Rung = Schemas["Rung"];
export type Judged = Schemas["Judged"];
export type RowView = Schemas["RowView"];
export type Instruction = Schemas["Instruction"];
export type FilledInstruction = Schemas["FilledInstruction"];
export type Question = Schemas["Question"];
export type Search = Schemas["SearchView"];
export type Passage = Schemas["Passage"];
export type Forecast = Schemas["Forecast"];
export type EditionView = Schemas["EditionView"];
export type SymptomCard = Schemas["SymptomCard"];
export type Evidence = Schemas["Evidence"];
export type EvidenceRow = Schemas["EvidenceRow"];
export type HarmSeen = Schemas["HarmSeen"];
export type StepEvidence = Schemas["StepEvidence"];
export type Rate = Schemas["Rate"];
export type CaseList = Schemas["CaseList"];
export type CaseTotal = Schemas["CaseTotal"];
export type CaseSummary = Schemas["CaseSummary"];
export type LeftOut = Schemas["LeftOut"];
export type CaseView = Schemas["CaseView"];
export type Watch = Schemas["Watch"];
export type TrialTest = Schemas["TrialTest"];
export type LooseEnd = Schemas["LooseEndView"];
export type Pause = Schemas["PauseView"];
export type HarmAsked = Schemas["HarmAsked"];
export type ClimbView = Schemas["ClimbView"];
export type ClimbSummary = Schemas["ClimbSummary"];
export type Answer = Schemas["Answer"];
export type Move = Schemas["RecordMove"]["move"];
export type Fact = Schemas["Fact"];
export type Me = Schemas["Me"];
export type CurveView = Schemas["CurveView"];
export type CurvePoint = Schemas["CurvePoint"];
export type OrderView = Schemas["OrderView"];
export type WhyHere = Schemas["WhyHere"];
export type PlaceMove = Schemas["Move"];
export type Suggestion = Schemas["Suggestion"];
export type ReviewFinding = Schemas["ReviewFinding"];
export type Mend = Schemas["Mend"];
export type Comparison = Schemas["Comparison"];
export type Job = Schemas["JobView"];
