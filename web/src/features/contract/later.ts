import { later } from "../../components/later";

/** What programs ask is looked at rarely. */
export const ContractPage = later(() => import("./ContractPage"), "ContractPage");
