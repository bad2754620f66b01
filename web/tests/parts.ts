/** The page's plain functions, laid open for the tests: no component, no screen. */
import * as course from "../src/charts/course";
import * as dryingMap from "../src/charts/dryingMap";
import * as laneTrace from "../src/charts/laneTrace";
import * as labels from "../src/charts/labels";
import * as numbers from "../src/format/numbers";
import * as quantities from "../src/format/quantities";
import * as times from "../src/format/times";
import * as typed from "../src/format/typed";
import * as units from "../src/format/units";
import * as fields from "../src/rooms/kit/fields";
import * as filter from "../src/rooms/runs/filter";
import * as scene from "../src/rooms/plan/scene";
import * as lean from "../src/charts/lean";
import * as air from "../src/words/air";
import * as cases from "../src/words/cases";
import * as kit from "../src/words/kit";
import * as keep from "../src/words/keep";
import * as lanes from "../src/words/lanes";
import * as materials from "../src/words/materials";
import * as markWords from "../src/words/marks";
import * as plan from "../src/words/plan";
import * as practice from "../src/words/practice";
import * as prints from "../src/words/prints";
import * as reminders from "../src/words/reminders";
import * as runs from "../src/words/runs";
import * as spools from "../src/words/spools";

Object.assign(window, {
  parts: {
    course,
    fields,
    filter,
    scene,
    dryingMap,
    labels,
    laneTrace,
    numbers,
    quantities,
    times,
    typed,
    units,
    air,
    cases,
    lean,
    markWords,
    practice,
    prints,
    kit,
    keep,
    lanes,
    materials,
    plan,
    reminders,
    runs,
    spools,
  },
});
