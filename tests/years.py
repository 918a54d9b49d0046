"""Repeats a hall's held classes into the past and measures its pages before and after. Called by bin/years, which starts and removes
everything."""
import http.client, os, re, statistics, sys, time, urllib.parse

import serving

CLASSES = int(sys.argv[1])
PORT = int(os.environ["YEARS_PORT"])
PSQL = f"{os.environ['YEARS_PG_BIN']}/psql"
A_WEEK = 18
TIMES = 60


def sql(query):
    return serving.sql(PSQL, query)


def get(path, cookie, body=None):
    c = http.client.HTTPConnection("127.0.0.1", PORT, timeout=120)
    headers = {"Cookie": cookie} if cookie else {}
    if body is not None:
        headers["Content-Type"] = "application/x-www-form-urlencoded"
    c.request("GET" if body is None else "POST", path, body, headers)
    answer = c.getresponse()
    text = answer.read().decode()
    for name, value in answer.getheaders():
        if name.lower() == "set-cookie" and value.startswith("lantern="):
            cookie = value.split(";")[0]
    return answer.status, text, cookie


def signed_in():
    _, page, cookie = get("/sign-in", "")
    csrf = re.search(r'name="csrf" value="([^"]+)"', page)[1]
    form = urllib.parse.urlencode({"email": "ines@ropewalk.example", "password": "lantern-demo", "csrf": csrf})
    status, _, cookie = get("/sign-in", cookie, form)
    assert status == 303, status
    return cookie


def measured(server, what):
    cookie = signed_in()
    day = sql("SELECT max(on_date) FROM results")[0][0]
    next_class = sql(f"SELECT id FROM classes WHERE starts_at::date > '{day}' ORDER BY starts_at DESC LIMIT 1")[0][0]
    held = sql("SELECT class_id FROM results ORDER BY on_date DESC LIMIT 1")[0][0]
    member = sql("SELECT member_id FROM results GROUP BY 1 ORDER BY count(*) DESC LIMIT 1")[0][0]
    pages = {"the week": "/classes", "a class to come": f"/classes/{next_class}/versions", "a held class": f"/classes/{held}/versions",
             "its log": f"/classes/{held}/log", "the record": "/record", "what results taught": "/learnt", "a member's results": f"/members/{member}/results"}
    print(f"{what}: {sql('SELECT count(*) FROM classes')[0][0]} classes, {sql('SELECT count(*) FROM results')[0][0]} results")
    for name, path in pages.items():
        began = time.perf_counter()
        status, _, _ = get(path, cookie)
        first = time.perf_counter() - began
        assert status == 200, (path, status)
        times = []
        for _ in range(TIMES):
            began = time.perf_counter()
            get(path, cookie)
            times.append(1000 * (time.perf_counter() - began))
        print(f"  {name:22} first {1000 * first:7.0f} ms, then {statistics.median(times):6.1f} ms (best {min(times):.1f})")
    with open(f"/proc/{server.pid}/status") as f:
        kilobytes = int(re.search(r"VmRSS:\s+(\d+)", f.read())[1])
    print(f"  server: {kilobytes // 1024} MB")


def repeat():
    """Every held class again, some weeks earlier each time, with all that hangs on it; rows are taken whole, whatever columns they have."""
    held = int(sql("SELECT count(DISTINCT class_id) FROM results")[0][0])
    sql(f"""
        CREATE TABLE again AS
        SELECT h.class_id AS was, gen_random_uuid() AS id, (7 * (4 + (k - 1) / {A_WEEK})) * interval '1 day' AS earlier
        FROM generate_series(1, {CLASSES}) k
        JOIN (SELECT class_id, row_number() OVER (ORDER BY class_id) AS n FROM (SELECT DISTINCT class_id FROM results) x) h
        ON h.n = 1 + (k - 1) % {held};
        INSERT INTO classes SELECT (jsonb_populate_record(c, jsonb_build_object('id', a.id, 'starts_at', c.starts_at - a.earlier))).*
        FROM classes c JOIN again a ON a.was = c.id;
        INSERT INTO bookings SELECT (jsonb_populate_record(b, jsonb_build_object('class_id', a.id, 'card_token', md5(a.id::text || b.member_id::text)))).*
        FROM bookings b JOIN again a ON a.was = b.class_id;
        INSERT INTO results SELECT (jsonb_populate_record(r, jsonb_build_object('class_id', a.id, 'on_date', (r.on_date - a.earlier)::date, 'judged', false))).*
        FROM results r JOIN again a ON a.was = r.class_id;
        INSERT INTO frozen_plans SELECT (jsonb_populate_record(f, jsonb_build_object('class_id', a.id))).*
        FROM frozen_plans f JOIN again a ON a.was = f.class_id;
        ANALYZE""")


server = serving.serve(PORT)
measured(server, "three weeks")
server.kill()
server.wait()
repeat()
server = serving.serve(PORT)
cookie = signed_in()
began, opened = time.perf_counter(), 0
while "not counted yet" in get("/record", cookie)[1]:
    opened += 1
print(f"judged for the first time in {time.perf_counter() - began:.1f} s, {opened + 1} openings of the record")
sql("VACUUM ANALYZE")  # as the database does by itself while a hall grows
measured(server, "three years")
server.kill()
