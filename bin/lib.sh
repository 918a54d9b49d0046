# Steps that bin/demo, bin/test and bin/screenshots share: what must be installed, and a private PostgreSQL.
# Sourced, not run. Every failing step says what failed and what to do.

set -euo pipefail
top=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
cd "$top"
export PATH="$PATH:$HOME/.cargo/bin"
pg_bin=/usr/lib/postgresql/15/bin

say() { printf '%s\n' "$*" >&2; }
fail() { say "$(basename "$0"): $*"; exit 1; }

# root becomes nobody else for apt; others go through sudo when they have it
as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"; elif command -v sudo >/dev/null; then sudo "$@"; else return 127; fi
}

# install PACKAGE... : Debian packages that are missing
install() {
  local missing=()
  for p in "$@"; do
    [ "$(dpkg-query -W -f='${db:Status-Status}' "$p" 2>/dev/null)" = installed ] || missing+=("$p")
  done
  [ ${#missing[@]} = 0 ] && return
  say "Installing ${missing[*]} ..."
  local log; log=$(mktemp)
  if ! { as_root apt-get update -qq && as_root env DEBIAN_FRONTEND=noninteractive \
         apt-get install -y -qq --no-install-recommends "${missing[@]}"; } >"$log" 2>&1 </dev/null; then
    tail -n 5 "$log" >&2
    fail "these Debian packages could not be installed: ${missing[*]}. Install them by hand (apt-get install ${missing[*]}) and run this again."
  fi
  rm -f "$log"
}

need_rust() {
  command -v cargo >/dev/null || fail "cargo is not on the PATH. Install Rust with rustup and run this again."
  install gcc libc6-dev pkg-config libpq-dev
}

# PostgreSQL must not run as root: root hands the folder to the user postgres of Debian's package.
pg_user() { if [ "$(id -u)" = 0 ]; then echo postgres; else id -un; fi; }
as_pg() {
  if [ "$(id -u)" = 0 ]; then (cd / && runuser -u postgres -- "$@"); else "$@"; fi
}

free_port() {
  python3 - 2>/dev/null <<'P' || perl -MIO::Socket::INET -e '$s=IO::Socket::INET->new(Listen=>1,LocalAddr=>"127.0.0.1"); print $s->sockport,"\n"'
import socket
s = socket.socket()
s.bind(("127.0.0.1", 0))
print(s.getsockname()[1])
P
}

# The cluster lies in DIR itself. Where root's checkout is closed to the user postgres (below /root, say), it lies in
# /var/lib/honest-lantern instead, under a name made from DIR.
pg_home() { # DIR
  if [ "$(id -u)" != 0 ] || runuser -u postgres -- test -x "$top" 2>/dev/null; then
    echo "$1/pg"
  else
    echo "/var/lib/honest-lantern/$(printf '%s' "$1" | sha256sum | cut -c1-16)"
  fi
}

# start_pg DIR : starts (or finds running) the private cluster of DIR; sets pg_url
start_pg() {
  local dir=$1 home port log
  install postgresql-15
  mkdir -p "$dir"
  home=$(pg_home "$dir")
  mkdir -p "$home"
  if [ "$(id -u)" = 0 ]; then chown postgres: "$home"; fi
  chmod 700 "$home"
  if [ ! -s "$home/data/PG_VERSION" ]; then
    log=$(as_pg "$pg_bin/initdb" -D "$home/data" -U lantern --auth-local=trust --auth-host=trust -E UTF8 --locale=C.UTF-8 2>&1) \
      || { say "$log"; fail "the private PostgreSQL could not be made in $home. Remove that folder and run this again."; }
  fi
  if ! as_pg "$pg_bin/pg_ctl" -D "$home/data" status >/dev/null 2>&1; then
    port=$(free_port)
    printf '%s\n' "$port" >"$dir/port"
    as_pg "$pg_bin/pg_ctl" -D "$home/data" -l "$home/log" -w -t 60 \
      -o "-p $port -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c fsync=${PG_FSYNC:-on} -c max_connections=100" start >/dev/null 2>&1 </dev/null \
      || { tail -n 5 "$home/log" >&2; fail "the private PostgreSQL did not start. Its log is $home/log."; }
  fi
  port=$(cat "$dir/port" 2>/dev/null) || fail "$dir/port is gone while PostgreSQL runs. Run bin/demo stop and try again."
  pg_url="postgres://lantern@127.0.0.1:$port"
}

stop_pg() { # DIR
  local home; home=$(pg_home "$1")
  [ -s "$home/data/PG_VERSION" ] || return 0
  as_pg "$pg_bin/pg_ctl" -D "$home/data" -m fast -w stop >/dev/null 2>&1 </dev/null || true
}

remove_pg() { # DIR
  stop_pg "$1"
  rm -rf "$(pg_home "$1")" "$1"
}
