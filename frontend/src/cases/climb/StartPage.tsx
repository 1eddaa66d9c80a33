import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useRef, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { KnownNow } from "../../advice/notices/KnownNow";
import { openClimbsKey } from "../../api/keys";
import { symptomsQuery } from "../../api/lists";
import type { Fact, SymptomCard } from "../../api/types";
import { find, settledOn } from "../../shell/find";
import { Heading } from "../../ui/Heading";
import { Key } from "../../ui/Key";
import { Empty, LoadFailed, Loading } from "../../ui/States";
import { TaperThumb } from "../../ui/taper/TaperThumb";
import { useKept } from "../../ui/useKept";
import { isInHaste } from "../../ui/useKeys";
import { useSending } from "../../ui/useSending";
import { AlreadyOpen } from "./AlreadyOpen";
import { openClimb } from "./queries";
import { trimmedAll, WhoCalls } from "./WhoCalls";

/** A caller is on the line: what they say, which symptom that is, what is known of the unit. */
export const StartPage = () => {
  const { data: symptoms, error, refetch } = useQuery(symptomsQuery);
  if (!symptoms) return error ? <LoadFailed error={error} onRetry={refetch} /> : <Loading />;
  if (!symptoms.some((symptom) => symptom.edition)) {
    return (
      <Empty title="Nothing to follow yet">A case is guided by a published edition. Publish a playbook first.</Empty>
    );
  }
  return <StartForm symptoms={symptoms} />;
};

const StartForm = ({ symptoms }: { symptoms: SymptomCard[] }) => {
  const [params] = useSearchParams();
  const [said, setSaid] = useKept("said");
  const [chosenId, setChosenId] = useState(params.get("playbook") ?? "");
  const [unit, setUnit] = useKept("unit");
  const [who, setWho] = useState({ ticket: "", caller: "", call_back: "" });
  const [facts, setFacts] = useState<Record<string, string>>({});
  const [isUnfolded, setUnfolded] = useState(false);
  const climbId = useRef(crypto.randomUUID());
  const navigate = useNavigate();
  const client = useQueryClient();
  const found = find(symptoms, said);
  const because = new Map(found.map((one) => [one.symptom.id, one.because]));
  const listed = [
    ...found.map(({ symptom }) => symptom),
    ...symptoms.filter(({ id }) => !found.some(({ symptom }) => symptom.id === id)),
  ];
  const settled = settledOn(found);
  const chosen = symptoms.find(({ id }) => id === (chosenId || (settled?.edition ? settled.id : "")));
  // What is read out whole leaves no doubt: the others are out of the way until somebody wants them.
  const isFolded = !chosenId && !isUnfolded && chosen !== undefined;
  const shown = isFolded ? [chosen] : listed;

  const opening = useSending({
    mutationFn: (symptom: SymptomCard) => {
      const known = Object.fromEntries(symptom.facts.flatMap(({ id }) => (facts[id] ? [[id, facts[id]]] : [])));
      const started = {
        kind: "started" as const,
        said: said.trim(),
        unit: unit.trim(),
        facts: known,
        ...trimmedAll(who),
      };
      return openClimb({ id: climbId.current, playbook: symptom.id, started });
    },
    onSuccess: (view) => {
      setSaid("");
      setUnit("");
      void client.invalidateQueries({ queryKey: openClimbsKey });
      navigate(`/climbs/${view.id}`);
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (chosen?.edition && !opening.isPending && !isInHaste(event.timeStamp)) opening.mutate(chosen);
  };

  const clear = () => {
    setSaid("");
    setUnit("");
    setWho({ ticket: "", caller: "", call_back: "" });
  };

  return (
    <form
      onSubmit={submit}
      onKeyDown={(event) => {
        if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) submit(event);
      }}
      className="min-h-0 flex-1 overflow-auto px-6 py-5"
    >
      <Heading>Start a case</Heading>
      <div className="-mx-6 mt-2">
        <KnownNow
          caller={{ playbook: chosen?.id, facts }}
          call={{ caller: who.caller, call_back: who.call_back, unit, said }}
          onLogged={clear}
        />
      </div>
      <div className="mt-4 grid max-w-[72rem] gap-x-10 gap-y-6 lg:grid-cols-[minmax(0,1fr)_20rem]">
        <div>
          <label htmlFor="caller-says" className="label">
            What does the caller say? Messages and codes as they are shown
          </label>
          <textarea
            id="caller-says"
            // biome-ignore lint/a11y/noAutofocus: the caller speaks already, and nothing stands before it
            autoFocus
            className="field"
            rows={2}
            maxLength={4000}
            value={said}
            onChange={(event) => setSaid(event.target.value)}
          />
          <fieldset className="mt-5">
            <legend className="label">
              {isFolded
                ? "It is this symptom: its message was read out"
                : `Which symptom is it?${found.length > 0 ? " The best fit stands first" : ""}`}
            </legend>
            <div className="border-rule border-t">
              {shown.map((symptom) => (
                <SymptomChoice
                  key={symptom.id}
                  symptom={symptom}
                  because={because.get(symptom.id)}
                  isChosen={symptom.id === chosen?.id}
                  onChoose={() => setChosenId(symptom.id)}
                />
              ))}
            </div>
            {isFolded && listed.length > 1 && (
              <button type="button" className="link mt-2 text-dense" onClick={() => setUnfolded(true)}>
                It is another one: show all {listed.length}
              </button>
            )}
          </fieldset>
        </div>
        <div>
          <label htmlFor="unit" className="label">
            Unit, as its plate says
          </label>
          <input
            id="unit"
            className="field"
            maxLength={120}
            placeholder="such as K2-1043"
            value={unit}
            onChange={(event) => setUnit(event.target.value)}
          />
          <AlreadyOpen unit={unit} ticket={who.ticket} caller={who.caller} />
          <WhoCalls who={who} onChange={setWho} />
          {chosen?.facts.map((fact) => (
            <FactField
              key={fact.id}
              fact={fact}
              value={facts[fact.id] ?? ""}
              onChange={(value) => setFacts((now) => ({ ...now, [fact.id]: value }))}
            />
          ))}
          <p className="mt-2 text-dense text-faint">What is not known yet is asked when it first matters.</p>
          {opening.error && (
            <p role="alert" className="mt-3 border-clay border-l-4 pl-3">
              {opening.error.message}
            </p>
          )}
          <button
            type="submit"
            className="button mt-5"
            data-tone="main"
            disabled={!chosen?.edition || opening.isPending}
          >
            Begin
            <Key>Ctrl ↵</Key>
          </button>
          {!chosen && <p className="mt-2 text-dense text-faint">Choose a symptom first.</p>}
        </div>
      </div>
    </form>
  );
};

interface SymptomChoiceProps {
  symptom: SymptomCard;
  because: string | undefined;
  isChosen: boolean;
  onChoose: () => void;
}

const SymptomChoice = ({ symptom, because, isChosen, onChoose }: SymptomChoiceProps) => (
  <label
    data-chosen={isChosen || undefined}
    className="relative grid cursor-pointer grid-cols-[5.5rem_minmax(0,1fr)] items-center gap-3 border-rule border-b py-2 pl-3 hover:bg-sheet has-[:focus-visible]:outline-2 has-[:focus-visible]:outline-ink data-[chosen]:bg-sheet data-[chosen]:shadow-[inset_4px_0_0_var(--color-brass)]"
  >
    <input
      type="radio"
      name="symptom"
      className="sr-only"
      checked={isChosen}
      disabled={!symptom.edition}
      onChange={onChoose}
    />
    <TaperThumb forecast={symptom.forecast} height={40} />
    <span>
      <span className="block font-semibold">{symptom.title}</span>
      <span className="block text-dense text-faint">
        {symptom.edition
          ? because && because !== symptom.title
            ? because
            : `“${symptom.says}”`
          : "not published yet: nothing to follow"}
      </span>
    </span>
  </label>
);

/** What a fact may be said to be at once; versions, numbers and texts are asked when they first matter. */
const optionsOf = (fact: Fact) => (fact.type === "yes-no" ? ["yes", "no"] : Object.keys(fact.choices ?? {}));

interface FactFieldProps {
  fact: Fact;
  value: string;
  onChange: (value: string) => void;
}

const FactField = ({ fact, value, onChange }: FactFieldProps) => (
  <div className="mt-3" hidden={optionsOf(fact).length === 0}>
    <label htmlFor={`fact-${fact.id}`} className="label">
      {fact.ask}
      {fact.where && <span className="block">{fact.where}</span>}
    </label>
    <select id={`fact-${fact.id}`} className="field" value={value} onChange={(event) => onChange(event.target.value)}>
      <option value="">Not known yet</option>
      {optionsOf(fact).map((choice) => (
        <option key={choice}>{choice}</option>
      ))}
    </select>
  </div>
);
