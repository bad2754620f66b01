import { lazy } from "react";

/** What programs ask is looked at rarely. */
export const ContractPage = lazy(() =>
  import("./ContractPage").then((loaded) => ({ default: loaded.ContractPage })),
);
