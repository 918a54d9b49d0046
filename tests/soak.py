"""Three clients log results, take decisions and go offline while the server and its database are killed; nothing that was
acknowledged may be lost, nothing may be done twice. Called by bin/soak, which starts and removes everything."""
import http.client, json, os, random, re, signal, subprocess, sys, threading, time, urllib.parse, uuid

import serving

KILLS = int(sys.argv[1])
PORT = int(os.environ["SOAK_PORT"])
PG = os.environ["SOAK_PG_BIN"]
DATA = os.environ["SOAK_DATA"]
PG_PORT = os.environ["SOAK_PG_PORT"]
BASE = ["runuser", "-u", "postgres", "--"] if os.getuid() == 0 else []
stop = threading.Event()


def sql(query):
    return serving.sql(f"{PG}/psql", query)


def serve():
    return serving.serve(PORT)


def start_pg():
    port = f"-p {PG_PORT} -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c max_connections=100"
    subprocess.run(BASE + [f"{PG}/pg_ctl", "-D", DATA, "-w", "-t", "60", "-o", port, "-l", f"{DATA}/../log", "start"],
                   stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, stdin=subprocess.DEVNULL, check=True, cwd="/")


def kill_pg():
    with open(f"{DATA}/postmaster.pid") as f:
        pid = int(f.readline())
    children = subprocess.run(["pgrep", "-P", str(pid)], capture_output=True, text=True).stdout.split()
    os.kill(pid, signal.SIGKILL)
    # its children notice that it is gone; before that no other may start
    for _ in range(200):
        if not any(os.path.exists(f"/proc/{child}") for child in children):
            break
        time.sleep(0.05)
    if os.path.exists(f"{DATA}/postmaster.pid"):
        os.remove(f"{DATA}/postmaster.pid")


class Client(threading.Thread):
    """Signs in once, then changes things until told to stop; what is not acknowledged is sent again with the same key, in order."""

    def __init__(self, number, class_id, members):
        super().__init__(daemon=True)
        self.number, self.class_id, self.members = number, class_id, members
        self.random = random.Random(number)
        self.cookie, self.csrf = "", ""
        self.box, self.acknowledged, self.made = [], [], 0
        self.refused = []

    def request(self, method, path, body=None, headers=None):
        c = http.client.HTTPConnection("127.0.0.1", PORT, timeout=30)
        headers = dict(headers or {})
        if self.cookie:
            headers["Cookie"] = self.cookie
        c.request(method, path, body, headers)
        answer = c.getresponse()
        text = answer.read().decode()
        for name, value in answer.getheaders():
            if name.lower() == "set-cookie" and value.startswith("lantern="):
                self.cookie = value.split(";")[0]
        return answer.status, text

    def sign_in(self):
        _, page = self.request("GET", "/sign-in")
        token = re.search(r'name="csrf" value="([^"]+)"', page).group(1)
        form = urllib.parse.urlencode({"csrf": token, "email": "ines@ropewalk.example", "password": "lantern-demo"})
        self.request("POST", "/sign-in", form, {"Content-Type": "application/x-www-form-urlencoded"})
        _, page = self.request("GET", "/classes")
        self.csrf = re.search(r'name="csrf" value="([^"]+)"', page).group(1)

    def change(self):
        self.made += 1
        tag = f"{self.number}-{self.made}"
        if self.random.random() < 0.75:
            member = self.random.choice(self.members)
            seconds = 420 + self.random.randrange(300)
            fields = {"block": BLOCK, "member": member, "tier": "F", "result": f"{seconds // 60}:{seconds % 60:02}", "note": tag}
            return tag, f"/classes/{self.class_id}/log", fields
        return tag, f"/classes/{self.class_id}/length", {"key": f"soak-{tag}", "seconds": "120"}

    def run(self):
        while not stop.is_set() or self.box:
            if not stop.is_set():
                # now and then several are done offline and sent together
                for _ in range(self.random.choice([1, 1, 1, 4])):
                    self.box.append((str(uuid.uuid4()), *self.change()))
            while self.box:
                key, tag, path, fields = self.box[0]
                try:
                    status, text = self.request("POST", path, urllib.parse.urlencode({**fields, "csrf": self.csrf}),
                                                {"Content-Type": "application/x-www-form-urlencoded", "X-Key": key, "HX-Request": "true"})
                except (OSError, http.client.HTTPException):
                    time.sleep(0.05)
                    continue
                if status in (200, 204, 303):
                    self.acknowledged.append(tag)
                elif status >= 500:
                    time.sleep(0.05)
                    continue
                else:
                    self.refused.append((tag, status, text[:200]))
                self.box.pop(0)
            time.sleep(0.01)


server = serve()
row = sql("""SELECT c.id FROM classes c WHERE NOT EXISTS (SELECT 1 FROM results r WHERE r.class_id = c.id)
             AND EXISTS (SELECT 1 FROM bookings b WHERE b.class_id = c.id)
             AND EXISTS (SELECT 1 FROM sessions s WHERE s.id = c.session_id AND s.sheet LIKE '%Breakwater%') ORDER BY c.starts_at LIMIT 1""")
if not row:
    row = sql("""SELECT c.id FROM classes c WHERE EXISTS (SELECT 1 FROM sessions s WHERE s.id = c.session_id AND s.sheet LIKE '%Breakwater%')
                 ORDER BY c.starts_at DESC LIMIT 1""")
CLASS = row[0][0]
MEMBERS = [r[0] for r in sql(f"SELECT member_id FROM bookings WHERE class_id = '{CLASS}' ORDER BY position")]
clients = [Client(n, CLASS, MEMBERS) for n in range(3)]
for c in clients:
    c.sign_in()
_, page = clients[0].request("GET", f"/classes/{CLASS}/log")
BLOCK = re.search(r'id="f-(\d+)-', page).group(1)
before = int(sql(f"SELECT count(*) FROM result_changes WHERE class_id = '{CLASS}'")[0][0])
for c in clients:
    c.start()
killer = random.Random(1)
for n in range(KILLS):
    time.sleep(killer.uniform(0.05, 0.6))
    server.kill()
    server.wait()
    if n % 2:
        kill_pg()
        start_pg()
    server = serve()
    if (n + 1) % 20 == 0:
        print(f"{n + 1} kills, {sum(len(c.acknowledged) for c in clients)} changes acknowledged", file=sys.stderr)
stop.set()
for c in clients:
    c.join()
logged = {}
for (note,) in sql(f"SELECT became->>'note' FROM result_changes WHERE class_id = '{CLASS}' ORDER BY id OFFSET {before}"):
    logged[note] = logged.get(note, 0) + 1
for (key,) in sql(f"SELECT body->>'key' FROM decisions WHERE class_id = '{CLASS}' AND body->>'key' LIKE 'soak-%'"):
    tag = key.removeprefix("soak-")
    logged[tag] = logged.get(tag, 0) + 1
acknowledged = [t for c in clients for t in c.acknowledged]
lost = [t for t in acknowledged if t not in logged]
doubled = [t for t, n in logged.items() if n > 1]
refused = [r for c in clients for r in c.refused]
# what stands in a row is the last change of it
wrong = sql(f"""SELECT r.member_id FROM results r JOIN LATERAL (SELECT became FROM result_changes x WHERE x.class_id = r.class_id AND x.member_id = r.member_id
               AND x.block = r.block ORDER BY x.id DESC LIMIT 1) l ON true WHERE r.class_id = '{CLASS}' AND l.became->>'note' <> r.note""")
server.kill()
print(json.dumps({"kills": KILLS, "acknowledged": len(acknowledged), "lost": len(lost), "doubled": len(doubled), "refused": len(refused),
                  "rows that are not their last change": len(wrong)}))
for r in refused[:3]:
    print(r, file=sys.stderr)
sys.exit(1 if lost or doubled or wrong or refused else 0)
