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
        "import json",
        "from urllib.request import Request, urlopen",
        "",
        `url = "${base}/api/spools/1/moisture/"`,
        "ask = Request(url)",
        'ask.data = json.dumps({"moisture_pct": 0.21,',
        '    "plus_minus_pct": 0.05}).encode()',
        'ask.add_header("Content-Type", "application/json")',
        ...(token ? [`ask.add_header("Authorization", "Bearer ${token}")`] : []),
        "print(json.load(urlopen(ask)))",
      ].join("\n"),
    },
    {
      name: "A spreadsheet’s “data from the web”",
      code: `${base}/api/tables/runs-weighing.csv${token ? `\nwith the header Authorization: Bearer ${token}` : ""}`,
    },
  ];
};
