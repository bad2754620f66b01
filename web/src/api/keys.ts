/** Every query's key, in one place: who asks and who refreshes use the same. A shorter key stands for all that begin
 * with it. */
export const keys = {
  archived: ["archived"],
  backups: ["backups"],
  cases: ["cases"],
  caseRecords: ["case"],
  coils: ["coils"],
  coilsOf: (spool: number) => ["coils", spool],
  caseRecord: (id: number) => ["case", id],
  devices: ["devices"],
  dryerKinds: ["dryer kinds"],
  dryers: ["dryers"],
  emptySpools: ["empty spools"],
  evidence: ["evidence"],
  historyOf: (find: string) => ["history", find],
  historyEntry: (id: number) => ["history entry", id],
  evidenceOf: (material: string) => ["evidence", material],
  ingress: ["ingress"],
  ingressOf: (place: number) => ["ingress", place],
  label: (spool: number) => ["label", spool],
  lanes: ["lanes"],
  liveMass: (scale: number) => ["live", scale],
  maps: ["map"],
  map: (query: object) => ["map", query],
  materials: ["materials"],
  months: ["months"],
  places: ["places"],
  plans: ["plan"],
  plan: (query: object) => ["plan", query],
  practice: ["practice"],
  preferences: ["preferences"],
  prints: ["prints"],
  printsOf: (spool: number | null) => ["prints", spool],
  racks: ["rack"],
  rack: (span: string) => ["rack", span],
  room: ["room"],
  runs: ["runs"],
  runningRuns: ["runs", "running"],
  runRecords: ["run"],
  run: (id: number) => ["run", id],
  runAir: (id: number) => ["run", id, "air"],
  scales: ["scales"],
  schedules: ["schedule"],
  schedule: (zone: string) => ["schedule", zone],
  whatIf: (query: object) => ["schedule", "what if", query],
  spools: ["spool"],
  spool: (id: number) => ["spool", id],
  spoolTable: (text: string, columns: readonly string[]) => ["spool table", text, columns],
  storage: ["storage"],
  trials: ["trials"],
  trial: (id: number) => ["trials", id],
  trialDesign: (query: object) => ["trials", "design", query],
  trialSlip: (id: number, typed: string) => ["trials", id, "slip", typed],
} as const;

export type Key = readonly unknown[];

/** What shows where the water is now, or rests on it. */
export const MOISTURE: Key[] = [
  keys.racks,
  keys.lanes,
  keys.spools,
  keys.coils,
  keys.storage,
  keys.plans,
  keys.maps,
  keys.runs,
  keys.runRecords,
  keys.cases,
  keys.caseRecords,
  keys.schedules,
];

/** What shows a plan, or a run that was planned. */
export const PLANS: Key[] = [
  keys.plans,
  keys.maps,
  keys.racks,
  keys.lanes,
  keys.spools,
  keys.runs,
  keys.runRecords,
  keys.schedules,
];

/** Everything: after an act that may have changed any record. */
export const EVERYTHING: Key[] = [[]];
