/** The page's plain functions, laid open for the tests: no component, no screen. */
import * as course from "../src/charts/course";
import * as courseNames from "../src/charts/courseNames";
import * as shape from "../src/forms/shape";
import * as dryingMap from "../src/charts/dryingMap";
import * as laneTrace from "../src/charts/laneTrace";
import * as labels from "../src/charts/labels";
import * as numbers from "../src/domain/numbers";
import * as quantities from "../src/domain/quantities";
import * as tableFile from "../src/domain/tableFile";
import * as times from "../src/domain/times";
import * as typed from "../src/domain/typed";
import * as units from "../src/domain/units";
import * as fields from "../src/features/equipment/fields";
import * as filter from "../src/features/runs/filter";
import * as scene from "../src/features/plan/scene";
import * as scheduleScene from "../src/features/schedule/scene";
import * as evidenceBars from "../src/features/cases/evidenceBars";
import * as air from "../src/features/runs/airWords";
import * as cases from "../src/features/cases/caseWords";
import * as kit from "../src/features/equipment/words";
import * as storage from "../src/features/storage/words";
import * as lanes from "../src/features/rack/words";
import * as materials from "../src/features/materials/words";
import * as thresholdWords from "../src/features/materials/thresholdWords";
import * as cautions from "../src/features/plan/cautionWords";
import * as ticketRows from "../src/features/plan/ticketRows";
import * as plan from "../src/features/plan/words";
import * as practice from "../src/features/cases/practiceWords";
import * as prints from "../src/features/cases/printWords";
import * as reminders from "../src/features/runs/reminderWords";
import * as runs from "../src/features/runs/words";
import * as spools from "../src/features/spools/words";

Object.assign(window, {
  parts: {
    course,
    courseNames,
    fields,
    filter,
    scene,
    scheduleScene,
    shape,
    dryingMap,
    labels,
    laneTrace,
    numbers,
    quantities,
    tableFile,
    times,
    typed,
    units,
    air,
    cases,
    evidenceBars,
    thresholdWords,
    practice,
    prints,
    kit,
    storage,
    lanes,
    materials,
    plan,
    cautions,
    ticketRows,
    reminders,
    runs,
    spools,
  },
});
