/** The logbook. */
export const LOGBOOK_SCREEN = {
  "logbook/chooseStepGoIts": "Choose a step to go to its state. Steps off the path in use stay here and can be gone back to.",
  "logbook/time": "Time",
  "logbook/step": "Step",
  "logbook/changes": "Changes",
  "logbook/otherBranchStage": "{stage}, other branch",
  "logbook/meanEMeanDeltaE": "mean ΔE {meanDeltaE}",
  "logbook/nothingVisible": "nothing visible",
  "logbook/notMeasured": "not measured",
  "logbook/noteOnLabel": "Note on {label}",
  "logbook/note": "note",
  "logbook/showOlderSteps": "Show older steps",
  "logbook/compareStateUse": "Compare the state in use with",
  "logbook/differencesTwoStates": "Differences of two states",
  "logbook/then": "Then",
  "logbook/andMoreCount": "And {count} more.",
} as const;
