-- Roles and database, as the superuser. Both roles sign in as the system users of their names, without a password:
-- sealpacket reads and writes rows, sealpacket-owner owns the tables and migrates them.
CREATE ROLE sealpacket LOGIN;
CREATE ROLE "sealpacket-owner" LOGIN;
CREATE DATABASE sealpacket OWNER "sealpacket-owner" TEMPLATE template0 ENCODING 'UTF8' LOCALE 'C.UTF-8';
REVOKE ALL ON DATABASE sealpacket FROM PUBLIC;
GRANT CONNECT ON DATABASE sealpacket TO sealpacket;
