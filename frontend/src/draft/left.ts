/** What an earlier page left unsent of drafts: most often nothing, and then nothing of drafts is loaded. */
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { meQuery } from "../api/me";
import { browserStorage } from "./storage";

/** What an earlier page of this person left is sent from wherever they are now. */
export function useLeftEdits(): void {
  const person = useQuery(meQuery).data?.person?.id;
  useEffect(() => {
    if (person === undefined) return;
    void browserStorage.waitingOf(person).then(async (playbooks) => {
      if (playbooks.length === 0) return;
      const { sendLeft } = await import("./drafts");
      sendLeft(playbooks, person);
    });
  }, [person]);
}
