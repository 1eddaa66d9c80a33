/** The drafts of this window: one for each playbook, of whoever sits here, let go when another one is opened. */
import { takeLock } from "../api/locks";
import { Draft } from "./draft";
import { serverOf } from "./server";
import { browserStorage } from "./storage";

const CHANNEL = "mild-ladder-drafts";

interface Open {
  draft: Draft;
  person: number | undefined;
  /** How many parts of the page show it. */
  users: number;
}

const drafts = new Map<string, Open>();
const nameOf = (playbookId: string, person: number | undefined) => `${person ?? ""} ${playbookId}`;

/** The draft of a playbook as a person has it. Nothing is read, held or heard until it is started. */
export function draftOf(playbookId: string, person: number | undefined): Draft {
  const name = nameOf(playbookId, person);
  const there = drafts.get(name);
  if (there) return there.draft;
  const draft = made(playbookId, person);
  drafts.set(name, { draft, person, users: 0 });
  return draft;
}

function made(playbookId: string, person: number | undefined): Draft {
  const releases: (() => void)[] = [];
  let channel: BroadcastChannel | undefined;
  const draft = new Draft({
    playbookId,
    person,
    storage: browserStorage,
    server: serverOf(playbookId, person),
    listen: () => {
      if (!("BroadcastChannel" in window)) return;
      channel = new BroadcastChannel(CHANNEL);
      channel.onmessage = ({ data }) => {
        if (data === playbookId && draft.isShown) void draft.look();
      };
    },
    hold: async (client) => {
      const release = await takeLock(`mild-ladder-draft ${client}`);
      if (release) releases.push(release);
      return release !== undefined;
    },
    letGo: () => {
      for (const release of releases) release();
      channel?.close();
    },
    tell: () => channel?.postMessage(playbookId),
  });
  return draft;
}

/** A part of the page shows it from now on, until what is returned is called. Drafts of other people end, and those that
 * nobody shows and of which nothing waits: what waits of another person is kept for them. */
export function use(draft: Draft): () => void {
  const mine = [...drafts.values()].find((one) => one.draft === draft);
  if (!mine) return () => undefined;
  mine.users += 1;
  for (const [name, one] of drafts) {
    if (one === mine) continue;
    if (one.person !== mine.person || (one.users === 0 && one.draft.isIdle)) {
      one.draft.end();
      drafts.delete(name);
    }
  }
  return () => {
    mine.users -= 1;
  };
}

/** Send what an earlier page of that person left, unless somebody else sits here meanwhile. */
export function sendLeft(playbooks: readonly string[], person: number): void {
  if ([...drafts.values()].some((one) => one.users > 0 && one.person !== person)) return;
  for (const one of playbooks) void draftOf(one, person).start();
}

window.addEventListener("pagehide", () => {
  for (const { draft } of drafts.values()) draft.flush();
});
window.addEventListener("online", () => {
  for (const { draft } of drafts.values()) draft.sendNow();
});

/** A key that is no letter, or a press, may begin a deed that is worked out from the page: that is drawn first. */
function catchUpBeforeDeeds(event: Event): void {
  const isLetter = event instanceof KeyboardEvent && event.key.length === 1 && !event.ctrlKey && !event.metaKey;
  if (isLetter) return;
  for (const { draft } of drafts.values()) draft.catchUp();
}
for (const kind of ["keydown", "pointerup", "paste", "drop"]) window.addEventListener(kind, catchUpBeforeDeeds, true);
