import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { client, unwrap } from "../../api/client";
import { keys } from "../../api/keys";

export const cases = queryOptions({
  queryKey: keys.cases,
  queryFn: () => unwrap(client.GET("/api/cases/")),
});

export const casePage = (id: number) =>
  queryOptions({
    queryKey: keys.caseRecord(id),
    queryFn: () => unwrap(client.GET("/api/cases/{case_id}/", { params: { path: { case_id: id } } })),
  });

/** Prints, newest first: of one spool, or of all. */
export const prints = (spool: number | null) =>
  queryOptions({
    queryKey: keys.printsOf(spool),
    queryFn: () => unwrap(client.GET("/api/prints/", { params: { query: spool === null ? {} : { spool } } })),
  });

export const evidenceTable = (material: string) =>
  queryOptions({
    queryKey: keys.evidenceOf(material),
    queryFn: () => unwrap(client.GET("/api/evidence/", { params: { query: { material } } })),
    placeholderData: keepPreviousData,
  });

export const practice = queryOptions({
  queryKey: keys.practice,
  queryFn: () => unwrap(client.GET("/api/practice/")),
});
