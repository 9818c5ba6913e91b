"""A content platform from Debian's packages, twice: WordPress behind Apache with PHP, on MariaDB; private, on loopback."""

import os
import pwd
import shutil
import subprocess
import tempfile
import time
import urllib.request
from pathlib import Path

from palinode.project.postgres import free_port
from tests.real.mariadb import MariaDB

WORDPRESS = Path("/usr/share/wordpress")
MODULES = Path("/usr/lib/apache2/modules")
USER = "www-data"
_CONFIG = """<?php
define('DB_NAME', '{database}');
define('DB_USER', 'root');
define('DB_PASSWORD', '');
define('DB_HOST', 'localhost:{socket}');
define('DB_CHARSET', 'utf8mb4');
define('DB_COLLATE', '');
define('WP_CONTENT_DIR', '{root}/wp-content');
define('DISABLE_WP_CRON', true);
define('WP_HTTP_BLOCK_EXTERNAL', true);
// Application passwords are for https elsewhere.
define('WP_ENVIRONMENT_TYPE', 'local');
define('AUTOMATIC_UPDATER_DISABLED', true);
foreach (['AUTH_KEY', 'SECURE_AUTH_KEY', 'LOGGED_IN_KEY', 'NONCE_KEY', 'AUTH_SALT', 'SECURE_AUTH_SALT',
          'LOGGED_IN_SALT', 'NONCE_SALT'] as $name) define($name, 'tide' . $name);
$table_prefix = 'wp_';
if (!defined('ABSPATH')) define('ABSPATH', __DIR__ . '/');
require_once ABSPATH . 'wp-settings.php';
"""
_APACHE = """ServerRoot {folder}
ServerName localhost
PidFile {folder}/apache.pid
ErrorLog {folder}/error.log
User {user}
Group {user}
{modules}
TypesConfig /etc/mime.types
DirectoryIndex index.php index.html
<FilesMatch "\\.php$">
  SetHandler application/x-httpd-php
</FilesMatch>
StartServers 2
MaxRequestWorkers 8
"""
_HOST = """Listen 127.0.0.1:{port}
<VirtualHost 127.0.0.1:{port}>
  ServerName {name}
  DocumentRoot {root}
  <Directory {root}>
    AllowOverride All
    Require all granted
    Options FollowSymLinks
  </Directory>
</VirtualHost>
"""
_MODULES = (
    ("mpm_prefork_module", "mod_mpm_prefork.so"),
    ("authz_core_module", "mod_authz_core.so"),
    ("mime_module", "mod_mime.so"),
    ("dir_module", "mod_dir.so"),
    ("alias_module", "mod_alias.so"),
    ("rewrite_module", "mod_rewrite.so"),
)


class Installation:
    """One copy of the platform: a name, a folder, a database."""

    def __init__(self, pair: "PlatformPair", name: str) -> None:
        self.pair, self.name = pair, name
        self.database = name.partition(".")[0]
        self.root = pair.folder / self.database
        self.port = free_port(8300 if name == "old.example" else 8400)

    @property
    def allowed(self) -> str:
        """What to allow the guard for this server."""
        return f"127.0.0.1/32:{self.port}"

    def php(self, code: str) -> str:
        """Run PHP inside the platform; return what it prints."""
        script = self.pair.folder / "script.php"
        script.write_text(
            f"<?php $_SERVER['HTTP_HOST'] = '{self.name}'; $_SERVER['REQUEST_URI'] = '/';\n"
            f"require '{self.root}/wp-load.php';\n{code}"
        )
        done = subprocess.run(["php", str(script)], capture_output=True, text=True, timeout=300)
        if done.returncode:
            raise RuntimeError(f"PHP failed: {done.stdout[-2000:]} {done.stderr[-2000:]}")
        return done.stdout

    def install(self, title: str, theme: str = "twentytwentyone") -> None:
        """Make its tables and its first account; addresses of posts have year and month."""
        script = self.pair.folder / "install.php"
        script.write_text(
            f"<?php define('WP_INSTALLING', true); $_SERVER['HTTP_HOST'] = '{self.name}'; $_SERVER['REQUEST_URI'] = '/';"
            f"function wp_mail() {{ return true; }} require '{self.root}/wp-load.php';"
            "require_once ABSPATH . 'wp-admin/includes/upgrade.php';"
            f"wp_install('{title}', 'miller', 'miller@{self.name}', true, '', 'tide-and-stone');"
        )
        subprocess.run(["php", str(script)], check=True, capture_output=True, timeout=120)
        self.php(
            f"foreach (['home', 'siteurl'] as $name) update_option($name, 'http://{self.name}');"
            f"switch_theme('{theme}');"
        )
        self.permalinks("/%year%/%monthnum%/%postname%/")
        self.htaccess()

    def permalinks(self, form: str) -> None:
        """Set the form of addresses."""
        self.php(f"global $wp_rewrite; $wp_rewrite->set_permalink_structure('{form}');")
        # Only a process that began with the new form knows the rules of all kinds of pages.
        self.php("global $wp_rewrite; $wp_rewrite->flush_rules(false);")

    def sql(self, *statements: str) -> None:
        """Run statements in its database."""
        self.pair.database.sql(*statements, database=self.database)

    def htaccess(self, *first: str) -> None:
        """Write the rewrite rules of permalinks, after some other lines."""
        lines = [*first, "RewriteEngine On", "RewriteRule ^index\\.php$ - [L]", "RewriteCond %{REQUEST_FILENAME} !-f",
                 "RewriteCond %{REQUEST_FILENAME} !-d", "RewriteRule . /index.php [L]"]  # fmt: skip
        (self.root / ".htaccess").write_text("\n".join([*lines, ""]))


class PlatformPair:
    """Both installations, their database server and their web server."""

    def __enter__(self) -> "PlatformPair":
        self.folder = Path(tempfile.mkdtemp(prefix="palinode-platform-"))
        self.folder.chmod(0o755)
        self.processes: list[subprocess.Popen[bytes]] = []
        self.database = MariaDB(self.folder / "mysql", USER).__enter__()
        self.old, self.new = (Installation(self, name) for name in ("old.example", "new.example"))
        for one in (self.old, self.new):
            self._copy(one)
            self.database.sql(f"CREATE DATABASE {one.database} CHARACTER SET utf8mb4")
        self._start_web_server()
        return self

    def __exit__(self, *_: object) -> None:
        for process in reversed(self.processes):
            process.terminate()
            process.wait(30)
        self.database.__exit__()
        shutil.rmtree(self.folder, ignore_errors=True)

    def move(self) -> None:
        """Make the new installation a careful copy of the old one, under its own name."""
        written = self.database.dump(self.old.database)
        self.database.load(written.replace(b"http://old.example", b"http://new.example"), self.new.database)
        shutil.copytree(
            self.old.root / "wp-content" / "uploads", self.new.root / "wp-content" / "uploads", dirs_exist_ok=True
        )
        self._own(self.new.root / "wp-content")
        shutil.copy(self.old.root / ".htaccess", self.new.root / ".htaccess")

    def _copy(self, one: Installation) -> None:
        one.root.mkdir()
        for entry in WORDPRESS.iterdir():
            if entry.name not in ("wp-content", "wp-config.php", ".htaccess"):
                (one.root / entry.name).symlink_to(entry)
        # What finds its own folder by where it lies must lie here.
        for name in ("wp-load.php", "wp-settings.php", "wp-blog-header.php", "wp-login.php", "index.php"):
            (one.root / name).unlink()
            shutil.copy(WORDPRESS / name, one.root / name)
        content = one.root / "wp-content"
        content.mkdir()
        (content / "uploads").mkdir()
        for part in ("themes", "plugins", "languages"):
            for place in (WORDPRESS / "wp-content" / part, Path("/var/lib/wordpress/wp-content") / part):
                if place.exists():
                    shutil.copytree(place, content / part, symlinks=False, dirs_exist_ok=True)
        (one.root / "wp-config.php").write_text(
            _CONFIG.format(database=one.database, socket=self.database.socket, root=one.root)
        )
        self._own(content)

    def _start_web_server(self) -> None:
        php = next(MODULES.glob("libphp*.so"))
        modules = [f"LoadModule {name} {MODULES}/{file}" for name, file in _MODULES] + [f"LoadModule php_module {php}"]
        config = _APACHE.format(folder=self.folder, user=USER, modules="\n".join(modules))
        config += "".join(_HOST.format(port=one.port, name=one.name, root=one.root) for one in (self.old, self.new))
        file = self.folder / "apache.conf"
        file.write_text(config)
        # In a session of its own: as it ends, it ends all of its group.
        self.processes.append(subprocess.Popen(["apache2", "-f", str(file), "-DFOREGROUND"], start_new_session=True))
        _until(lambda: _answers(self.old.port))

    @staticmethod
    def _own(folder: Path) -> None:
        if os.geteuid() == 0:
            user = pwd.getpwnam(USER)
            for path in (folder, *folder.rglob("*")):
                os.chown(path, user.pw_uid, user.pw_gid, follow_symlinks=False)


def _answers(port: int) -> bool:
    try:
        urllib.request.urlopen(f"http://127.0.0.1:{port}/readme.html", timeout=5).close()
    except OSError:
        return False
    return True


def _until(is_so: object, seconds: float = 60) -> None:
    deadline = time.monotonic() + seconds
    while not is_so():  # type: ignore[operator]
        if time.monotonic() > deadline:
            raise RuntimeError("the platform did not start")
        time.sleep(0.2)
