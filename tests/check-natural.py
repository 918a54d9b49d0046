#!/usr/bin/env python3
"""Sheets as coaches type them: reads every DIR/NAME.sheet.txt, compares it with DIR/NAME.expect.json and sorts it.

    check-natural.py [--least-right N] [--most-wrong N] DIR ...

  right           every expectation holds
  refused-click   what is wrong stands under an error, and applying suggestions (at most 8 clicks) makes the case right
  refused-bad     what is wrong stands under an error, but no suggestion leads to the right reading
  wrong-mixed     errors are printed, and beside them facts are wrong where no error stands
  wrong-silent    facts are wrong, or a mistake unnoticed, and no error is printed at all

Beside the keys of check-sheets.py an expectation may hold: blocks_any (lists of blocks, one of which must hold), and of a block
must_not_contain and team; of an entry load_all (every entry of that movement has the load); of a problem says (words of
which it holds one) and several lines; read_or_suggest and errors_allowed. Exit 1 when there are fewer right or more
wrong ones than asked.
"""
import argparse, collections, json, subprocess, tempfile, tomllib, re
import importlib.util, os, sys
spec = importlib.util.spec_from_file_location("check_sheets", os.path.join(os.path.dirname(os.path.abspath(__file__)), "check-sheets.py"))
c = importlib.util.module_from_spec(spec); spec.loader.exec_module(c)

def entries(where, want, got, complete, null_extras_allowed):
    out = []
    if not isinstance(got, list):
        return [f"{where}: expected a list, got {c.show(got)}"]
    gots = c.grouped(got)
    seen = set()
    by = {}
    for e in want:
        m = c.word(e["movement"])
        key = (m, c.unit(e["unit"])) if "unit" in e else (m, None)
        by.setdefault(key, []).append(e)
    for (m, u), es in by.items():
        if u is not None:
            hits = gots.get((m, u), [])
            seen.add((m, u))
        else:
            hits = [g for (gm, _), gs in gots.items() if gm == m for g in gs]
            seen |= {k for k in gots if k[0] == m}
        name = f"{where} {m}" + (f" ({u})" if u else "")
        if not hits:
            others = [k[1] for k in gots if k[0] == m]
            out.append(f"{name}: missing" + (f" (there in {', '.join(others)})" if others else ""))
            continue
        if all("count" in e for e in es):
            a, b = c.total(es), c.total(hits)
            if not c.same_count(a, b):
                out.append(f"{name}: count expected {c.show(a)}, got {c.show(b)}")
        for e in es:
            if "load_kg" not in e:
                continue
            have = [g.get("load_kg") for g in hits]
            if e["load_kg"] is None:
                ok = all(c.same_load(None, h) for h in have)
            elif e.get("load_all"):
                ok = all(c.same_load(e["load_kg"], h) for h in have)
            else:
                ok = any(c.same_load(e["load_kg"], h) for h in have)
            if not ok:
                out.append(f"{name}: load_kg expected {c.show(e['load_kg'])}, got {c.show(have[0] if len(have) == 1 else have)}")
    if complete:
        for key, es in gots.items():
            if key not in seen and not (null_extras_allowed and c.total(es) is None):
                out.append(f"{where} {key[0]} ({key[1]}): not expected, got count {c.show(c.total(es))}")
    return out

c.compare_entries = entries
old_block = c.compare_block
def block(where, want, got):
    plain = {k: v for k, v in want.items() if k not in ("must_not_contain", "team", "line")}
    out = old_block(where, plain, got)
    if not isinstance(got, dict):
        return out
    if "line" in want and not c.same_number(want["line"], got.get("line")):
        out.append(f"{where} line: expected {want['line']}, got {c.show(got.get('line'))}")
    have = {c.word(t.get("movement")) for t in (got.get("totals") or [])}
    for m in want.get("must_not_contain", []):
        if c.word(m) in have:
            out.append(f"{where} must not contain {m}")
    if "team" in want:
        t = got.get("team")
        if want["team"] is None or t is None:
            if (want["team"] is None) != (t is None):
                out.append(f"{where} team: expected {c.show(want['team'])}, got {c.show(t)}")
        else:
            if "size" in want["team"] and t.get("size") != want["team"]["size"]:
                out.append(f"{where} team size: expected {want['team']['size']}, got {c.show(t.get('size'))}")
            modes = want["team"].get("mode")
            if modes is not None:
                modes = modes if isinstance(modes, list) else [modes]
                if c.word(t.get("mode")) not in [c.word(m) for m in modes]:
                    out.append(f"{where} team mode: expected {c.show(modes)}, got {c.show(t.get('mode'))}")
    return out
c.compare_block = block

def problems(want, got, allowed):
    got = got if isinstance(got, list) else []
    out, met = [], set()
    for w in want:
        lines = w["line"] if isinstance(w["line"], list) else [w["line"]]
        here = [i for i, g in enumerate(got) if g.get("line") in lines]
        fit = [i for i in here if "severity" not in w or c.word(got[i].get("severity")) == c.word(w["severity"])]
        if "suggests" in w:
            names = w["suggests"] if isinstance(w["suggests"], list) else [w["suggests"]]
            fit = [i for i in fit if any(c.suggests(n, s) for n in names for s in got[i].get("suggestions") or [])]
        if "says" in w:
            fit = [i for i in fit if any(s.casefold() in (str(got[i].get("message")) + " " + " ".join(map(str, got[i].get("suggestions") or []))).casefold() for s in w["says"])
                   and "kept this line as a note" not in str(got[i].get("message"))]
        met.update(here)
        if not fit:
            out.append(f"problems: expected {c.show(w)}, got " + (c.show([got[i] for i in here]) if here else "none on that line"))
    for i, g in enumerate(got):
        if i not in met and c.word(g.get("severity")) == "error" and g.get("line") not in allowed:
            out.append(f"problems: error not expected: {c.show(g)}")
    return out

def block_list(want, got):
    have = got.get("blocks")
    if not isinstance(have, list):
        return [f"blocks: expected a list, got {c.show(have)}"]
    out = []
    if len(have) != len(want):
        kinds = [b.get("kind") if isinstance(b, dict) else b for b in have]
        out.append(f"blocks: expected {len(want)}, got {len(have)}: {c.show(kinds)}")
    for i, (w, g) in enumerate(zip(want, have)):
        out += c.compare_block(f"block {i + 1}", w, g)
    return out

def compare(want, got):
    out = []
    for key in ("title", "date"):
        if key in want and c.text(want[key]) != c.text(got.get(key)):
            out.append(f"{key}: expected {c.show(want[key])}, got {c.show(got.get(key))}")
    if "class_s" in want and not c.same_number(want["class_s"], got.get("class_s")):
        out.append(f"class_s: expected {c.show(want['class_s'])}, got {c.show(got.get('class_s'))}")
    if "blocks_any" in want:
        all_out = [block_list(b, got) for b in want["blocks_any"]]
        out += min(all_out, key=len)
    elif "blocks" in want:
        out += block_list(want["blocks"], got)
    allowed = set(want.get("errors_allowed", []))
    totals = {c.word(t.get("movement")) for b in got.get("blocks") or [] for t in (b.get("totals") or []) + (b.get("per_round") or [])}
    for r in want.get("read_or_suggest", []):
        said = [p for p in got.get("problems") or [] if p.get("line") == r["line"]
                and any(c.suggests(r["movement"], s) for s in p.get("suggestions") or [])]
        if said:
            allowed.add(r["line"])
        elif c.word(r["movement"]) not in totals:
            out.append(f"line {r['line']}: neither read as {r['movement']} nor suggested")
    if "problems" in want:
        out += problems(want["problems"], got.get("problems"), allowed)
    return out
c.compare = compare


BIN = os.environ.get("LANTERN", "target/debug/honest-lantern")
def read(text):
    with tempfile.NamedTemporaryFile("w", suffix=".sheet.txt", delete=False) as f:
        f.write(text)
    try:
        r = subprocess.run([BIN, "read", f.name, "--format", "json"], capture_output=True, timeout=10)
        return json.loads(r.stdout)
    finally:
        os.unlink(f.name)
def apply(p, text, s):
    lines = text.split("\n"); i = p["line"] - 1
    ch = list(lines[i]); a = min(p["column"] - 1, len(ch)); b = min(a + p["length"], len(ch))
    lines[i] = "".join(ch[:a]) + s + "".join(ch[b:])
    return "\n".join(lines)
def nerr(g): return sum(p["severity"] == "error" for p in g["problems"])
def clicks(text, want, got):
    """greedy: the suggestion that leaves the fewest failed expectations, then the fewest errors"""
    n = 0
    while n < 8:
        bad = len(compare(want, got))
        if bad == 0: return n
        best = None
        for p in got["problems"]:
            for s in (p.get("suggestions") or [])[:3]:
                t = apply(p, text, s); g = read(t)
                k = (len(compare(want, g)), nerr(g))
                if best is None or k < best[0]: best = (k, t, g)
        if best is None or best[0] >= (bad, nerr(got)): return None
        text, got, n = best[1], best[2], n + 1
    return None
def facts_block(w, g):
    """(held, all) facts of one wanted block against one got block"""
    held = tot = 0
    for k, v in w.items():
        if k in ("totals", "totals_include", "per_round"):
            for e in v:
                tot += 1
                if g is not None and not c.compare_block("b", {k if k != "totals" else "totals_include": [e] if k != "per_round" else [e]}, g if k != "per_round" else {**g, "per_round": [x for x in (g.get("per_round") or []) if c.word(x.get("movement")) == c.word(e["movement"])]}):
                    held += 1
            if k == "totals":
                tot += 1
                names = {c.word(e["movement"]) for e in v}
                if g is not None and not [t for t in g.get("totals") or [] if c.word(t["movement"]) not in names]: held += 1
        else:
            tot += 1
            if g is not None and not c.compare_block("b", {k: v}, g): held += 1
    return held, tot
def align(want, got):
    n, m = len(want), len(got)
    S = [[facts_block(want[i], got[j])[0] + (0.5 if c.word(got[j].get("kind")) in ([c.word(x) for x in want[i]["kind"]] if isinstance(want[i]["kind"], list) else [c.word(want[i]["kind"])]) else 0) for j in range(m)] for i in range(n)]
    D = [[0.0]*(m+1) for _ in range(n+1)]
    for i in range(n-1, -1, -1):
        for j in range(m-1, -1, -1):
            D[i][j] = max(D[i+1][j], D[i][j+1], S[i][j] + D[i+1][j+1])
    pairs, i, j = {}, 0, 0
    while i < n and j < m:
        if D[i][j] == S[i][j] + D[i+1][j+1] and S[i][j] > 0: pairs[i] = j; i += 1; j += 1
        elif D[i][j] == D[i+1][j]: i += 1
        else: j += 1
    return pairs
def facts(want, got):
    best = None
    for blocks in want.get("blocks_any", [want.get("blocks", [])]):
        pairs = align(blocks, got["blocks"])
        h = t = 0
        for i, b in enumerate(blocks):
            a, z = facts_block(b, got["blocks"][pairs[i]] if i in pairs else None)
            h += a; t += z
        t += 1; h += len(blocks) == len(got["blocks"])
        if best is None or h / t > best[0] / best[1]: best = (h, t)
    return best
def silent(want, got):
    """wrong facts in a got block on whose lines no error stands, or a wanted problem that is not said"""
    errs = [p["line"] for p in got["problems"] if p["severity"] == "error"]
    if any("problems: expected" in x for x in problems(want["problems"], got.get("problems"), set(range(10**4)))): return True
    gb = got["blocks"]
    spans = [(b["line"], (gb[i+1]["line"] - 1) if i + 1 < len(gb) else 10**6) for i, b in enumerate(gb)]
    best = True
    for blocks in want.get("blocks_any", [want.get("blocks", [])]):
        pairs = align(blocks, gb); s = False
        for i, b in enumerate(blocks):
            if i not in pairs: continue
            a, z = facts_block(b, gb[pairs[i]])
            lo, hi = spans[pairs[i]]
            if a < z and not any(lo <= l <= hi for l in errs): s = True
        for j in range(len(gb)):
            lo, hi = spans[j]
            if j not in pairs.values() and not any(lo <= l <= hi for l in errs): s = True
        if len(blocks) > len(gb) and not errs: s = True
        best = best and s
    return best
CAT = {m["id"]: m for m in tomllib.load(open(os.environ.get("CATALOGUE", "crates/core/data/movements.toml"), "rb"))["movement"]}
def norm(s): return " ".join(w[:-1] if len(w) > 3 and w.endswith("s") and not w.endswith("ss") else w for w in re.sub(r"[^a-z0-9&+]+", " ", s.lower()).split())
def naming(mid, text):
    m = CAT[mid]; names = {norm(x) for x in [m["name"].split("(")[0], m["id"].replace("-", " ")] + m.get("aliases", [])}
    names |= {"dub"} if mid == "double-under" else set()
    return [i for i, l in enumerate(text.split("\n"), 1) if any(f" {n} " in f" {norm(l)} " for n in names)]
def silent_entries(want, got, text):
    """wanted movements that are wrong with no error on a line that names them nor on the three lines above"""
    errs = {p["line"] for p in got["problems"] if p["severity"] == "error"}
    best = None
    for blocks in want.get("blocks_any", [want.get("blocks", [])]):
        pairs, out = align(blocks, got["blocks"]), []
        for i, b in enumerate(blocks):
            g = got["blocks"][pairs[i]] if i in pairs else None
            for k in ("totals", "totals_include", "per_round"):
                for e in b.get(k, []):
                    a, z = facts_block({"totals_include" if k != "per_round" else k: [e]}, g)
                    if a == z: continue
                    ls = naming(e["movement"], text)
                    if ls and not any(l - 3 <= x <= l for l in ls for x in errs): out.append(f"{e['movement']} @{ls}")
        if best is None or len(out) < len(best): best = out
    return best

def outcome(text, want):
    got = read(text)
    held, all_facts = facts(want, got)
    if not compare(want, got):
        return "right", held, all_facts, []
    failed = compare(want, got)
    if nerr(got) == 0:
        return "wrong-silent", held, all_facts, failed
    if silent(want, got) or silent_entries(want, got, text):
        return "wrong-mixed", held, all_facts, failed
    return ("refused-bad" if clicks(text, want, got) is None else "refused-click"), held, all_facts, failed
def main():
    args = argparse.ArgumentParser(description="Sheets as coaches type them.")
    args.add_argument("--least-right", type=int, default=0)
    args.add_argument("--most-wrong", type=int, default=10**6)
    args.add_argument("dirs", nargs="+")
    args = args.parse_args()
    count, held, total = collections.Counter(), 0, 0
    for d in args.dirs:
        for f in sorted(os.listdir(d)):
            if f.endswith(".expect.json"):
                name = f[:-12]
                what, h, t, failed = outcome(open(f"{d}/{name}.sheet.txt").read(), json.load(open(f"{d}/{f}")))
                count[what] += 1
                held, total = held + h, total + t
                if what != "right":
                    print(f"{name}: {what}: " + "; ".join(failed)[:300])
    wrong = count["wrong-silent"] + count["wrong-mixed"]
    print(f"{sum(count.values())} sheets: {count['right']} right, {count['refused-click']} mended by a click, {count['refused-bad']} refused, {wrong} wrong; {held} of {total} facts")
    return 1 if count["right"] < args.least_right or wrong > args.most_wrong else 0
if __name__ == "__main__":
    sys.exit(main())
