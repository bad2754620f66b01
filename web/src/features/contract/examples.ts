/** Three short programs, for the address that the page is at. */
export const examples = (base: string, signedIn: boolean) => {
  const token = signedIn ? "TOKEN" : null;
  return [
    {
      name: "A shell",
      code: [
        "# the rack as it is now",
        `curl ${token ? `-H "Authorization: Bearer ${token}" ` : ""}${base}/api/rack/`,
      ].join("\n"),
    },
    {
      name: "Python",
      code: [
        "import json, urllib.request",
        "",
        `ask = urllib.request.Request("${base}/api/spools/1/moisture/", method="POST",`,
        '    data=json.dumps({"moisture_pct": 0.21, "plus_minus_pct": 0.05}).encode(),',
        `    headers={"Content-Type": "application/json"${token ? `, "Authorization": "Bearer ${token}"` : ""}})`,
        "print(json.load(urllib.request.urlopen(ask)))",
      ].join("\n"),
    },
    {
      name: "A spreadsheet’s “data from the web”",
      code: `${base}/api/tables/runs-weighing.csv${token ? `\nwith the header Authorization: Bearer ${token}` : ""}`,
    },
  ];
};
