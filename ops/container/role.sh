#!/bin/sh
# The role of the service: rows only; the tables belong to the owner.
psql --username="$POSTGRES_USER" --dbname=sealpacket --set=password="$SERVICE_PASSWORD" <<'SQL'
CREATE ROLE sealpacket LOGIN PASSWORD :'password';
SQL
