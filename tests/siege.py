#!/usr/bin/env python3
"""siege.py HOST:PORT PID: attacks at the doors with bounded counts, and how a signed-in coach fares meanwhile.

Fails where a page of somebody who is signed in takes a second or more at the 99th of a hundred, where the memory grows by more
than 200 MiB, or where the owner, who is in, is thrown out.
"""
import http.client, re, socket, sys, threading, time, urllib.parse

HOST, PORT = sys.argv[1].split(":")
PID = int(sys.argv[2])
WHO, WORD = "ines@ropewalk.example", "lantern-demo"


def ask(conn, way, path, fields=None, cookie=""):
    # a body that is text already costs this program nothing: it measures the server, not itself
    body = fields if isinstance(fields, str) or fields is None else urllib.parse.urlencode(fields)
    head = {"Cookie": cookie, "Content-Type": "application/x-www-form-urlencoded"}
    conn.request(way, path, body, head)
    got = conn.getresponse()
    text = got.read().decode("utf-8", "replace")
    new = "; ".join(c.split(";")[0] for c in got.headers.get_all("Set-Cookie") or [])
    return got.status, text, new or cookie


def connect():
    return http.client.HTTPConnection(HOST, int(PORT), timeout=30)


def door():
    """An open sign-in page: its connection, token and cookie."""
    conn = connect()
    _, page, cookie = ask(conn, "GET", "/sign-in")
    return conn, re.search(r'name="csrf" value="([^"]+)"', page).group(1), cookie


def sign_in(email, password):
    conn, token, cookie = door()
    status, _, cookie = ask(conn, "POST", "/sign-in", {"csrf": token, "email": email, "password": password, "next": ""}, cookie)
    return status, cookie


def memory():
    with open(f"/proc/{PID}/status") as f:
        return int(re.search(r"VmRSS:\s+(\d+)", f.read()).group(1)) / 1024


class Coach(threading.Thread):
    """Somebody who is in and opens pages one after the other."""

    def __init__(self, cookie):
        super().__init__(daemon=True)
        self.cookie, self.times, self.wrong, self.on = cookie, [], 0, True

    def run(self):
        conn = connect()
        while self.on:
            for path in ("/classes", "/members", "/kit"):
                began = time.monotonic()
                try:
                    status, _, _ = ask(conn, "GET", path, cookie=self.cookie)
                except (OSError, http.client.HTTPException):
                    status, conn = 0, connect()
                self.times.append(time.monotonic() - began)
                self.wrong += status != 200
                time.sleep(0.02)


def during(name, cookie, work):
    coach = Coach(cookie)
    coach.start()
    before, began = memory(), time.monotonic()
    said = work()
    while time.monotonic() - began < 5:
        time.sleep(0.1)
    coach.on = False
    coach.join()
    all_ = sorted(coach.times)
    at = lambda p: all_[min(len(all_) - 1, int(p * len(all_)))] * 1000
    grown = memory() - before
    print(f"{name:34} {said:34} pages {len(all_):5}  median {at(.5):6.1f} ms  p99 {at(.99):7.1f} ms  wrong {coach.wrong}  memory {grown:+.0f} MiB", flush=True)
    return at(0.99) < 1000 and coach.wrong == 0 and grown < 200


def many(n, each):
    """So many at once; how many of each answer."""
    counts, lock = {}, threading.Lock()

    def one(i):
        try:
            key = each(i)
        except (OSError, http.client.HTTPException, AttributeError) as e:
            key = type(e).__name__
        with lock:
            counts[key] = counts.get(key, 0) + 1

    threads = [threading.Thread(target=one, args=(i,)) for i in range(n)]
    [t.start() for t in threads]
    [t.join() for t in threads]
    return ", ".join(f"{k} x {v}" for k, v in sorted(counts.items(), key=str))


def flood():
    return many(60, lambda i: sign_in(f"nobody{i}@ropewalk.example", "not it at all")[0])


HUGE = "email=" + "a" * 1_900_000


def huge():
    def one(i):
        conn, token, cookie = door()
        return ask(conn, "POST", "/sign-in", f"csrf={token}&password=x&next=&{HUGE}", cookie)[0]
    return many(100, one)


def stalled():
    def one(i):
        s = socket.create_connection((HOST, int(PORT)), timeout=20)
        s.sendall(b"POST /sign-in HTTP/1.1\r\nHost: x\r\nContent-Type: application/x-www-form-urlencoded\r\nContent-Length: 1000\r\n\r\ncsrf=")
        s.settimeout(20)
        began = time.monotonic()
        try:
            s.recv(100)
        except TimeoutError:
            return "still open after 20 s"
        return f"ended after {time.monotonic() - began:.0f} s"
    return many(200, one)


def guesses():
    return many(12, lambda i: sign_in(WHO, f"a guess, number {i}")[0])


def main():
    for _ in range(100):
        try:
            status, cookie = sign_in(WHO, WORD)
            break
        except OSError:
            time.sleep(0.1)
    assert status == 303, f"the demo's coach cannot sign in: {status}"
    print(f"memory at the start {memory():.0f} MiB")
    kept = [
        during("nobody", cookie, lambda: "no attack"),
        during("60 sign-ins at once", cookie, flood),
        during("100 addresses of 1.9 MB", cookie, huge),
        during("200 bodies that never end", cookie, stalled),
        during("12 guesses at the owner's password", cookie, guesses),
    ]
    print("All doors hold." if all(kept) else "A door does not hold.")
    sys.exit(not all(kept))


main()
