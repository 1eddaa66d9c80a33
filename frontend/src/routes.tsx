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
      { path: "start", lazy: async () => ({ Component: (await import("./cases/climb/StartPage")).StartPage }) },
      { path: "new", lazy: async () => ({ Component: (await import("./desk/begin/NewSymptomPage")).NewSymptomPage }) },
      { path: "cases", lazy: async () => ({ Component: (await import("./cases/log/CasesPage")).CasesPage }) },
      { path: "left-out", lazy: async () => ({ Component: (await import("./cases/log/LeftOutPage")).LeftOutPage }) },
      { path: "cases/:caseId", lazy: async () => ({ Component: (await import("./cases/log/CasePage")).CasePage }) },
      {
        path: "playbooks/:playbookId",
        lazy: async () => ({ Component: (await import("./symptom/SymptomLayout")).SymptomLayout }),
        children: [
          { index: true, element: <Navigate to="ladder" replace /> },
          { path: "symptom", lazy: async () => ({ Component: (await import("./symptom/SymptomPage")).SymptomPage }) },
          {
            path: "ladder",
            lazy: async () => ({ Component: (await import("./symptom/ladder/LadderPage")).LadderPage }),
          },
          {
            path: "evidence",
            lazy: async () => ({ Component: (await import("./symptom/evidence/EvidencePage")).EvidencePage }),
          },
          { path: "cases", lazy: async () => ({ Component: (await import("./cases/log/SymptomCases")).SymptomCases }) },
          {
            path: "editions",
            lazy: async () => ({ Component: (await import("./symptom/editions/EditionsPage")).EditionsPage }),
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
    lazy: async () => ({ Component: (await import("./cases/climb/SheetPage")).SheetPage }),
  },
  {
    path: "/month",
    HydrateFallback: Loading,
    ErrorBoundary: PageBroke,
    lazy: async () => ({ Component: (await import("./advice/nudges/MonthPage")).MonthPage }),
  },
  {
    path: "/climbs/:climbId",
    HydrateFallback: Loading,
    ErrorBoundary: PageBroke,
    lazy: async () => ({ Component: (await import("./cases/climb/ClimbPage")).ClimbPage }),
  },
]);
