/** Plan. */
export const PLAN_SCREEN = {
  "plan/plan": "Plan",
  "plan/nothingPlannedJobStarts": "Nothing is planned in this job. It starts with the frames.",
  "plan/notPartVersion": "Not part of this version",
  "plan/planningUsedBeforeShot": "Planning is used before the shot; nothing in this job waits for it.",
  "plan/planningWillComeHere": "Planning will come here",
  "plan/bracketsFromSpotReadings":
    "Brackets from spot readings, focus distances, panorama rows, separate shots and night skies, each as a field card to take along.",
} as const;
