#!/bin/sh
# Send the vendor what an alert says, once: alert.sh REFERENCE TITLE SERIAL LOG QUESTION=ANSWER…
set -eu
number=$(sealpacket packet list --reference "$1" --json | jq -r '.[0].number // empty')
[ -n "$number" ] || number=$(sealpacket packet note "$2" --text "$2" --asset "$3" --reference "$1" --json | jq -r .number)
[ "$(sealpacket packet show "$number" --json | jq -r .life)" = drafting ] || exit 0
sealpacket exhibit add "$number" "$4" --quiet
shift 4
sealpacket packet answer "$number" --quiet "$@"
sealpacket packet seal "$number" --quiet
sealpacket packet lodge "$number" --json | jq -r '"\(.number) \(.reference)"'
