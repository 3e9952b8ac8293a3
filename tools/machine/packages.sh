# Sourced by ./start and ./test: what the machine itself must have. Debian's packages only.

say() { printf '%s\n' "$*"; }
fail() { printf '%s\n' "$*" >&2; exit 1; }

# As root, or through sudo where that asks nothing.
as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"; else sudo -n "$@"; fi
}

check_node() {
  command -v node >/dev/null || fail "Node.js is missing. Juncta needs version 20.19 or newer."
  node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)' \
    || fail "Juncta needs Node.js 20.19 or newer; this is $(node --version)."
}

# Installs those of the named Debian packages that are missing.
need_packages() {
  local missing=() name
  for name in "$@"; do
    dpkg-query -W -f '${Status}' "$name" 2>/dev/null | grep -q 'ok installed' || missing+=("$name")
  done
  [ ${#missing[@]} = 0 ] && return 0
  if [ "$(id -u)" != 0 ] && ! sudo -n true 2>/dev/null; then
    fail "These Debian packages are missing, and only root can install them: ${missing[*]}
Ask for: apt-get install ${missing[*]}"
  fi
  say "Installing Debian packages: ${missing[*]}"
  # Debian would start a database cluster of its own as soon as PostgreSQL is installed. We bring ours.
  if [[ " ${missing[*]} " == *" postgresql "* ]]; then
    as_root mkdir -p /etc/postgresql-common
    printf 'create_main_cluster = false\n' | as_root tee /etc/postgresql-common/createcluster.conf >/dev/null
  fi
  local log; log=$(mktemp)
  { as_root apt-get update -qq && as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq \
      --no-install-recommends -o Dpkg::Options::=--force-confold "${missing[@]}"; } >"$log" 2>&1 \
    || { tail -5 "$log" >&2; rm -f "$log"; fail "Debian's packages could not be installed: ${missing[*]}"; }
  rm -f "$log"
  # Debian's package runs Janus as a service, open to the machine's network. We bring our own settings and run it.
  if [[ " ${missing[*]} " == *" janus "* ]] && [ -d /run/systemd/system ]; then
    as_root systemctl disable --now janus >/dev/null 2>&1 || true
  fi
}

# Installs the project's own packages as the lock file names them, when they are not there yet or it changed.
need_node_modules() {
  # ./start and ./test may run side by side: the one that comes second waits.
  exec 9>.install.lock
  flock 9
  install_node_modules
  flock -u 9
  exec 9>&-
}

install_node_modules() {
  local want; want=$(sha256sum package-lock.json | cut -d' ' -f1)
  [ "$(cat node_modules/.juncta-lock 2>/dev/null)" = "$want" ] && return 0
  say "Installing the project's packages (a minute or two)"
  local log; log=$(mktemp)
  npm ci --no-progress --loglevel=error >"$log" 2>&1 \
    || { grep -v "^npm warn" "$log" | head -15 >&2; rm -f "$log"; fail "The project's packages could not be installed."; }
  rm -f "$log"
  printf '%s' "$want" > node_modules/.juncta-lock
}
