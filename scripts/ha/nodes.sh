# Three PostgreSQL nodes under Patroni, three members of etcd, and HAProxy before the nodes: on one machine, each node and each member in
# a network of its own as on a machine of its own, with the configuration of deploy/ha. To be sourced with $ROOT set and scripts/common.sh read, as root; HA is the folder that holds it
# all. A node can be killed, paused, or cut off from the others.

HA_NET=${HA_NET:-10.213.7}
HA_BRIDGE=brha

ha_need() {
  [ "$(id -u)" = 0 ] || fail "Networks of their own are made by root only: run $0 as root."
  need_postgres
  command -v patroni >/dev/null && command -v etcd >/dev/null && command -v haproxy >/dev/null && /usr/bin/python3 -c 'import etcd' 2>/dev/null ||
    apt_install patroni python3-etcd etcd-server haproxy
  command -v curl >/dev/null || apt_install curl
  command -v ip >/dev/null || apt_install iproute2
}

# A bridge of this machine, and for each node (1 to 3) and each member of etcd (11 to 13) a network that hangs on it.
HA_ALL="1 2 3 11 12 13"
ha_net_up() {
  local n
  ip link add "$HA_BRIDGE" type bridge
  ip address add "$HA_NET.254/24" dev "$HA_BRIDGE"
  ip link set "$HA_BRIDGE" up
  for n in $HA_ALL; do
    ip netns add "ha$n"
    ip link add "veth-ha$n" type veth peer name eth0 netns "ha$n"
    ip link set "veth-ha$n" master "$HA_BRIDGE" up
    ip -n "ha$n" address add "$HA_NET.$n/24" dev eth0
    ip -n "ha$n" link set eth0 up
    ip -n "ha$n" link set lo up
  done
}
ha_net_down() {
  local n
  for n in $HA_ALL; do ip netns del "ha$n" 2>/dev/null || true; done
  ip link del "$HA_BRIDGE" 2>/dev/null || true
}

# Starts a command in the network of a node (0: this machine's) as PostgreSQL's user; its id is in $HA/NAME.pid, what it says in
# $HA/NAME.log.
ha_begin() { # name, node, command ...
  local name=$1 net=(); [ "$2" = 0 ] || net=(ip netns exec "ha$2"); shift 2
  (cd /; setsid "${net[@]}" setpriv --reuid=postgres --regid=postgres --init-groups -- "$@" </dev/null >>"$HA/$name.log" 2>&1 & echo $! >"$HA/$name.pid")
}
ha_runs() { kill -0 "$(cat "$HA/$1.pid" 2>/dev/null || echo x)" 2>/dev/null; }
ha_end() { # name, signal
  ha_runs "$1" || return 0
  kill "-${2:-TERM}" "$(cat "$HA/$1.pid")" 2>/dev/null || true
}

ha_etcd() { # number
  local all="" n at=http://$HA_NET.1$1
  for n in 1 2 3; do all+="${all:+,}e$n=http://$HA_NET.1$n:2380"; done
  ha_begin "etcd$1" "1$1" etcd --enable-v2 --name "e$1" --data-dir "$HA/etcd$1" --log-level warn --listen-client-urls "$at:2379" \
    --advertise-client-urls "$at:2379" --listen-peer-urls "$at:2380" --initial-advertise-peer-urls "$at:2380" \
    --initial-cluster "$all" --initial-cluster-state new
}

ha_node() { # number
  local n=$1 at=$HA_NET.$1
  PATRONI_NAME=node$n PATRONI_RESTAPI_LISTEN=$at:8008 PATRONI_RESTAPI_CONNECT_ADDRESS=$at:8008 \
    PATRONI_POSTGRESQL_LISTEN=$at:5432 PATRONI_POSTGRESQL_CONNECT_ADDRESS=$at:5432 \
    PATRONI_POSTGRESQL_DATA_DIR=$HA/node$n PATRONI_POSTGRESQL_BIN_DIR=$PG_BIN PATRONI_POSTGRESQL_PGPASS=$HA/pgpass$n \
    PATRONI_ETCD_HOSTS="$HA_NET.11:2379,$HA_NET.12:2379,$HA_NET.13:2379" \
    PATRONI_SUPERUSER_PASSWORD=$(cat "$HA/password") PATRONI_REPLICATION_PASSWORD=$(cat "$HA/password") \
    ha_begin "node$n" "$n" patroni "$ROOT/deploy/ha/patroni.yml"
}

ha_proxy() {
  HA_BIND=$HA_NET.254:5432 NODE_1=$HA_NET.1:5432 NODE_2=$HA_NET.2:5432 NODE_3=$HA_NET.3:5432 \
    ha_begin haproxy 0 haproxy -f "$ROOT/deploy/ha/haproxy.cfg"
}

# The processes of a node: Patroni and PostgreSQL. Its member of etcd is not among them.
ha_processes() { cat "$HA/node$1.pid"; pgrep -f -- "-D $HA/node$1 " | while read -r main; do echo "$main"; pgrep -P "$main"; done; }
ha_kill() { ha_processes "$1" | xargs -r kill -KILL 2>/dev/null || true; }
ha_pause() { ha_processes "$1" | xargs -r kill -STOP 2>/dev/null || true; }
ha_go_on() { ha_processes "$1" | xargs -r kill -CONT 2>/dev/null || true; }
ha_cut() { ip link set "veth-ha$1" down; }
ha_heal() { ip link set "veth-ha$1" up; }

# The node that is leader by Patroni's word, 1 to 3; nothing where none is.
ha_leader() {
  local n
  for n in 1 2 3; do curl -fs -m 1 "http://$HA_NET.$n:8008/primary" >/dev/null 2>&1 && { echo "$n"; return; }; done
  return 0
}
# How many standbys follow the leader.
ha_standbys() {
  local leader; leader=$(ha_leader)
  [ -n "$leader" ] || { echo 0; return; }
  curl -fs -m 1 "http://$HA_NET.$leader:8008/patroni" | grep -o '"state": "streaming"' | wc -l
}
ha_whole() { [ -n "$(ha_leader)" ] && [ "$(ha_standbys)" = 2 ]; }
ha_until_whole() { # seconds
  local n
  for n in $(seq $(($1 * 2))); do ha_whole && return 0; sleep 0.5; done
  return 1
}

ha_up() {
  local n
  mkdir -p "$HA"
  [ -s "$HA/password" ] || (umask 077; head -c 24 /dev/urandom | od -An -tx1 | tr -d ' \n' >"$HA/password")
  chown -R postgres "$HA"
  chmod 711 "$HA"
  ha_net_up
  for n in 1 2 3; do ha_etcd $n; done
  for n in 1 2 3; do ha_node $n; done
  ha_proxy
  ha_until_whole 60 || fail "The nodes did not come up within a minute: see $HA/node1.log and its neighbours."
  export DATABASE_ADMIN_URL="postgres://postgres:$(cat "$HA/password")@$HA_NET.254:5432/postgres"
}

ha_down() {
  local n
  ha_end haproxy
  for n in 1 2 3; do ha_go_on "$n"; ha_heal "$n" 2>/dev/null || true; ha_end "node$n"; done
  for n in $(seq 40); do ha_runs node1 || ha_runs node2 || ha_runs node3 || break; sleep 0.5; done
  for n in 1 2 3; do ha_kill "$n"; ha_end "etcd$n" KILL; done
  ha_net_down
}
