import { createBrowserRouter, Navigate } from "react-router";
import { NotHere, PageBroke } from "./shell/NotHere";
import { Shell } from "./shell/Shell";
import { Loading } from "./ui/States";

/** Every place, loaded when it is first gone to. */
export const router = createBrowserRouter([
  {
    path: "/",
    Component: Shell,
    ErrorBoundary: PageBroke,
    HydrateFallback: Loading,
    children: [
      { index: true, lazy: async () => ({ Component: (await import("./desk/DeskPage")).DeskPage }) },
      { path: "start", lazy: async () => ({ Component: (await import("./climb/StartPage")).StartPage }) },
      { path: "new", lazy: async () => ({ Component: (await import("./begin/NewSymptomPage")).NewSymptomPage }) },
      { path: "cases", lazy: async () => ({ Component: (await import("./cases/CasesPage")).CasesPage }) },
      { path: "left-out", lazy: async () => ({ Component: (await import("./cases/LeftOutPage")).LeftOutPage }) },
      { path: "cases/:caseId", lazy: async () => ({ Component: (await import("./cases/CasePage")).CasePage }) },
      {
        path: "playbooks/:playbookId",
        lazy: async () => ({ Component: (await import("./symptom/SymptomLayout")).SymptomLayout }),
        children: [
          { index: true, element: <Navigate to="ladder" replace /> },
          { path: "symptom", lazy: async () => ({ Component: (await import("./symptom/SymptomPage")).SymptomPage }) },
          { path: "ladder", lazy: async () => ({ Component: (await import("./ladder/LadderPage")).LadderPage }) },
          {
            path: "evidence",
            lazy: async () => ({ Component: (await import("./evidence/EvidencePage")).EvidencePage }),
          },
          { path: "cases", lazy: async () => ({ Component: (await import("./cases/SymptomCases")).SymptomCases }) },
          {
            path: "editions",
            lazy: async () => ({ Component: (await import("./editions/EditionsPage")).EditionsPage }),
          },
        ],
      },
      { path: "*", Component: NotHere },
    ],
  },
  {
    path: "/climbs/:climbId/sheet",
    HydrateFallback: Loading,
    ErrorBoundary: PageBroke,
    lazy: async () => ({ Component: (await import("./climb/SheetPage")).SheetPage }),
  },
  {
    path: "/month",
    HydrateFallback: Loading,
    ErrorBoundary: PageBroke,
    lazy: async () => ({ Component: (await import("./nudges/MonthPage")).MonthPage }),
  },
  {
    path: "/climbs/:climbId",
    HydrateFallback: Loading,
    ErrorBoundary: PageBroke,
    lazy: async () => ({ Component: (await import("./climb/ClimbPage")).ClimbPage }),
  },
]);
