# Sourced by ./honest-edge and ./check. Makes .venv from a lock file, once, and says what it is doing.
# POSIX sh: this runs before anything is known about the machine.

say() { printf '%s\n' "honest-edge: $*" >&2; }

find_python() {
    for candidate in "${HONEST_EDGE_PYTHON:-}" python3 python3.14 python3.13 python3.12 python3.11; do
        [ -n "$candidate" ] || continue
        "$candidate" -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null && {
            printf '%s' "$candidate"
            return 0
        }
    done
    say "Python 3.11 or newer is needed and was not found. On Debian: apt install python3 python3-venv"
    return 1
}

# prepare_environment LOCK: afterwards .venv holds exactly what LOCK names.
# The stamp is written last, so an install that was interrupted is done again.
prepare_environment() {
    lock="$root/requirements/$1.lock"
    stamp="$root/.venv/.installed-$1"
    cmp -s "$lock" "$stamp" 2>/dev/null && return 0
    # The check lock holds the run lock whole.
    [ "$1" = run ] && cmp -s "$root/requirements/check.lock" "$root/.venv/.installed-check" 2>/dev/null && return 0
    python=$(find_python) || return 2
    "$python" -c 'import venv, ensurepip' 2>/dev/null || {
        say "Python's venv module is missing. On Debian: apt install python3-venv"
        return 2
    }
    say "First start: installing the locked packages into .venv (about 200 MB, a minute or two) ..."
    rm -f "$root"/.venv/.installed-*
    "$python" -m venv "$root/.venv" >&2 || {
        say "Could not make .venv in $root. Check that the folder can be written and the disk is not full."
        return 2
    }
    "$root/.venv/bin/python" -m pip install --disable-pip-version-check --require-hashes --only-binary :all: \
        -r "$lock" >&2 || {
        say "Installing the packages failed, see the line above. Check the network and the free disk space, then start again."
        return 2
    }
    cp "$lock" "$stamp" || return 2
    say "Installed."
}
