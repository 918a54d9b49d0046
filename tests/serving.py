"""What the scripts that run a server of their own share: its start, a page of it, and questions to its database."""
import http.client, os, subprocess, sys, time


def sql(psql, query):
    out = subprocess.run([psql, os.environ["HL_DATABASE_URL"], "-v", "ON_ERROR_STOP=1", "-tAc", query], capture_output=True, text=True, cwd="/")
    if out.returncode:
        sys.exit(f"{sys.argv[0]}: {out.stderr}")
    return [line.split("|") for line in out.stdout.splitlines() if line]


def serve(port):
    server = subprocess.Popen(["./target/release/honest-lantern", "serve", "--listen", f"127.0.0.1:{port}", "--secret-file", os.environ["HL_SECRET_FILE"]],
                              stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    for _ in range(300):
        try:
            c = http.client.HTTPConnection("127.0.0.1", port, timeout=2)
            c.request("GET", "/healthz")
            if c.getresponse().status == 200:
                return server
        except OSError:
            pass
        time.sleep(0.05)
    sys.exit(f"{sys.argv[0]}: the server did not start")
