#!/bin/sh
# Note what an alert says, once, and add its log: alert-curl.sh REFERENCE TITLE SERIAL LOG
set -eu
api() { curl -sS -H "Authorization: Bearer $SEALPACKET_TOKEN" "$@"; }
at=$SEALPACKET_ADDRESS/api/v1/packets
note=$(jq -n --arg r "$1" --arg t "$2" --arg a "$3" '{our_reference: $r, title: $t, asset: $a}')
number=$(api "$at" -H 'Content-Type: application/json' -d "$note" | jq -r .number) # also when it is there already
exhibit=$(jq -n --arg n "$(basename "$4")" --argjson s "$(wc -c <"$4")" '{name: $n, size: $s}')
api "$at/$number/exhibits" -H 'Content-Type: application/json' -d "$exhibit" >/dev/null
api -T "$4" -H 'Content-Type: application/octet-stream' "$at/$number/exhibits/$(basename "$4")/content" >/dev/null
echo "$number"
