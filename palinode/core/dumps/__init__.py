"""SQL dumps read as they stream by: tables, rows and cells of what mysqldump, mariadb-dump and pg_dump write."""
