"use strict";
(() => {
  const $ = (id) => document.getElementById(id);
  const data = JSON.parse($("data").textContent);
  const text = data.texts;
  const SEVERITIES = ["error", "warning", "note"];
  const STATES = [data.since ? "new" : "open", "known", "waived"];
  const MARKS = ["■", "▲", "●"];
  const [SEVERITY, STATE, RULE, CLIENTS, LOCALE, PART, KEY, REQUEST, FILE, LINE, COLUMN, MESSAGE, EFFECT, REMEDY, PRINT, WAIVER, OWNERS, RELATED] =
    Array.from({ length: 18 }, (_, index) => index);
  const rows = data.rows;
  const say = (index) => (index < 0 ? "" : text[index]);
  // A sentence is kept as what stands around its quotations, and these.
  const sentence = (those) => {
    if (those === -1) return "";
    let next = 1;
    return those.length === 1 ? text[those[0]] : text[those[0]].replace(/\u0001/g, () => `'${text[those[next++]]}'`);
  };
  const lists = new Map();
  const parts = (index) => {
    if (!lists.has(index)) lists.set(index, index < 0 ? [] : say(index).split("\u0000"));
    return lists.get(index);
  };
  const AT_ONCE = 50;
  let shown = 0;
  let found = [];

  const element = (name, className, content) => {
    const made = document.createElement(name);
    if (className) made.className = className;
    if (content !== undefined) made.textContent = content;
    return made;
  };
  const isolated = (content) => {
    const made = element("bdi", "", content);
    made.dir = "auto";
    return made;
  };

  const fill = (id, values, name) => {
    for (const value of values) {
      const option = element("option", "", name ? name(value) : value);
      option.value = value;
      $(id).append(option);
    }
  };
  const distinct = (values) => [...new Set(values)].filter((value) => value !== "").sort((a, b) => (a < b ? -1 : 1));
  fill("client", data.clients.concat(rows.some((row) => row[CLIENTS] < 0) ? ["(the charter)"] : []));
  fill("locale", data.locales.concat(distinct(rows.map((row) => say(row[LOCALE]))).filter((tag) => !data.locales.includes(tag))));
  fill("family", distinct(rows.map((row) => say(row[RULE]).split(".")[0])));
  fill("severity", SEVERITIES);
  fill("state", STATES.filter((_, index) => rows.some((row) => row[STATE] === index)));
  fill("owner", distinct(rows.flatMap((row) => parts(row[OWNERS]))));

  const low = text.map((each) => each.toLowerCase());
  const lower = (index) => (index < 0 ? "" : low[index]);
  const searched = rows.map((row) => {
    let all = row[PRINT];
    for (const field of [KEY, FILE, RULE, CLIENTS, LOCALE, PART, REQUEST, OWNERS]) if (row[field] >= 0) all += "\n" + low[row[field]];
    for (const field of [MESSAGE, EFFECT, REMEDY]) if (row[field] !== -1) all += "\n" + row[field].map(lower).join("\u0001");
    all.includes("\u0000"); // looked through once, it is one text to the engine, and no more pieces
    return all;
  });

  const ORDERS = {
    file: (a, b) => compare(say(rows[a][FILE]), say(rows[b][FILE])) || rows[a][LINE] - rows[b][LINE] || a - b,
    rule: (a, b) => compare(say(rows[a][RULE]), say(rows[b][RULE])) || a - b,
    client: (a, b) => compare(say(rows[a][CLIENTS]), say(rows[b][CLIENTS])) || a - b,
    locale: (a, b) => compare(say(rows[a][LOCALE]), say(rows[b][LOCALE])) || a - b,
  };
  const compare = (a, b) => (a < b ? -1 : a > b ? 1 : 0);

  const filter = () => {
    const client = $("client").value, locale = $("locale").value, family = $("family").value, owner = $("owner").value;
    const severity = SEVERITIES.indexOf($("severity").value), state = STATES.indexOf($("state").value);
    const wanted = $("words").value.toLowerCase().split(/[\s']+/).filter(Boolean);
    found = [];
    for (let index = 0; index < rows.length; index++) {
      const row = rows[index];
      if (severity >= 0 && row[SEVERITY] !== severity) continue;
      if (state >= 0 && row[STATE] !== state) continue;
      if (client && !(client === "(the charter)" ? row[CLIENTS] < 0 : parts(row[CLIENTS]).includes(client))) continue;
      if (locale && say(row[LOCALE]) !== locale) continue;
      if (family && !say(row[RULE]).startsWith(family + ".")) continue;
      if (owner && !parts(row[OWNERS]).includes(owner)) continue;
      if (wanted.length && !wanted.every((word) => searched[index].includes(word))) continue;
      found.push(index);
    }
    const order = ORDERS[$("order").value];
    if (order) found.sort(order);
    shown = 0;
    $("findings").replaceChildren();
    more();
    const all = rows.length.toLocaleString("en");
    $("number").textContent = found.length === rows.length ? `${all} findings` : `${found.length.toLocaleString("en")} of ${all} findings`;
  };

  const more = (number = AT_ONCE) => {
    const list = document.createDocumentFragment();
    for (const index of found.slice(shown, shown + number)) list.append(item(rows[index]));
    $("findings").append(list);
    shown = Math.min(found.length, shown + number);
    const left = found.length - shown;
    $("more").hidden = left === 0;
    $("more").textContent = `show more (${left.toLocaleString("en")} left)`;
  };

  const item = (row) => {
    const severity = SEVERITIES[row[SEVERITY]];
    const made = element("li", `finding ${severity}`);
    const head = element("p");
    head.append(element("span", `tag ${severity}`, `${MARKS[row[SEVERITY]]} ${severity}`));
    if (row[STATE]) head.append(element("span", "tag", STATES[row[STATE]]));
    const rule = element("button", "bare rule", say(row[RULE]));
    rule.type = "button";
    rule.addEventListener("click", () => manual(say(row[RULE])));
    head.append(rule, " ");
    head.append(element("span", "who", parts(row[CLIENTS]).join(", ") || "the charter"));
    if (row[LOCALE] >= 0) head.append(element("span", "", ` · ${say(row[LOCALE])}`));
    if (row[OWNERS] >= 0) head.append(element("span", "soft", ` of ${parts(row[OWNERS]).join(", ")}`));
    made.append(head);
    if (row[FILE] >= 0) made.append(element("p", "place", `${say(row[FILE])}:${row[LINE]}:${row[COLUMN]}`));
    const lines = [sentence(row[MESSAGE]), sentence(row[EFFECT]), row[REMEDY] === -1 ? "" : `→ ${sentence(row[REMEDY])}`, row[WAIVER] < 0 ? "" : `waived: ${say(row[WAIVER])}`];
    for (const line of lines.filter(Boolean)) {
      const paragraph = element("p");
      paragraph.append(isolated(line));
      made.append(paragraph);
    }
    const rest = element("details");
    rest.append(element("summary", "soft", "key, fingerprint, related places"));
    const facts = [["locale", LOCALE], ["part", PART], ["key", KEY], ["request", REQUEST]];
    for (const [name, field] of facts) {
      if (row[field] < 0) continue;
      const paragraph = element("p", "", `${name}: `);
      paragraph.append(isolated(say(row[field])));
      rest.append(paragraph);
    }
    rest.append(element("p", "", `fingerprint: ${row[PRINT]}`));
    for (let at = 0; at < row[RELATED].length; at += 3) {
      rest.append(element("p", "place", `see also ${say(row[RELATED][at])}:${row[RELATED][at + 1]}:${row[RELATED][at + 2]}`));
    }
    made.append(rest);
    return made;
  };

  const manual = (rule) => {
    const known = data.rules[rule] || ["", ""];
    $("manual-name").textContent = rule;
    $("manual-text").replaceChildren(element("p", "who", known[0]), ...known[1].split("\n\n").map((piece) => element("p", "", piece)));
    $("manual").showModal();
  };

  const cells = document.querySelectorAll("td.cell button");
  for (const cell of cells) {
    cell.addEventListener("click", () => {
      for (const other of cells) other.parentElement.classList.remove("chosen");
      cell.parentElement.classList.add("chosen");
      $("client").value = cell.dataset.client;
      $("locale").value = cell.dataset.locale;
      const seen = data.seen[cell.dataset.client][cell.dataset.locale];
      const panel = $("seen");
      panel.replaceChildren(element("p", "who", `${cell.dataset.client} in ${cell.dataset.locale}: ${seen[0]}`));
      for (const [what, keys] of seen[1]) {
        const line = element("p", "", `${what}: `);
        line.append(isolated(keys));
        panel.append(line);
      }
      filter();
    });
  }

  for (const id of ["client", "locale", "family", "severity", "state", "owner", "order"]) $(id).addEventListener("change", filter);
  $("words").addEventListener("input", filter);
  $("filters").addEventListener("submit", (event) => event.preventDefault());
  $("filters").addEventListener("reset", () => {
    for (const cell of cells) cell.parentElement.classList.remove("chosen");
    $("seen").replaceChildren();
    setTimeout(filter);
  });
  $("more").addEventListener("click", () => more());
  $("manual-close").addEventListener("click", () => $("manual").close());
  $("theme").addEventListener("click", () => {
    const root = document.documentElement;
    const dark = root.dataset.theme ? root.dataset.theme === "dark" : matchMedia("(prefers-color-scheme: dark)").matches;
    root.dataset.theme = dark ? "light" : "dark";
    $("theme").textContent = dark ? "dark colours" : "light colours";
  });
  document.addEventListener("keydown", (event) => {
    const typing = /^(INPUT|SELECT|TEXTAREA)$/.test(document.activeElement.tagName);
    if (event.key === "f" && !typing && !event.ctrlKey && !event.metaKey && !event.altKey) {
      event.preventDefault();
      $("words").focus();
    } else if (event.key === "Escape" && document.activeElement === $("words")) {
      $("words").value = "";
      filter();
    }
  });
  addEventListener("beforeprint", () => more(2000));
  if (data.since && rows.some((row) => row[STATE] === 0)) $("state").value = STATES[0];
  filter();
})();
