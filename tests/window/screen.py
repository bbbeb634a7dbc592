"""An X server without a screen, and hands for it."""
import os
import shutil
import subprocess
import sys
import time

PATIENCE = 60.0  # s; for a machine that does much else


def skip_without_screen():
    if not shutil.which("Xvfb") or not shutil.which("xdotool"):
        print("skipped: no Xvfb or no xdotool")
        sys.exit(77)


class Screen:
    def __init__(self, size="1280x800"):
        # Two servers that start in one moment may take one display, and one of them then ends or is never answered.
        for _ in range(10):
            self.display = self.start(size)
            if self.answers():
                return
            self.close()
        raise SystemExit("no X server could be started")

    def start(self, size):
        reading, writing = os.pipe()
        # A server begins anew when its last client leaves, and turns away who comes meanwhile: -noreset.
        self.server = subprocess.Popen(["Xvfb", "-displayfd", str(writing), "-noreset", "-screen", "0", f"{size}x24"],
                                       pass_fds=[writing], stderr=subprocess.DEVNULL)
        os.close(writing)
        with os.fdopen(reading) as told:
            return ":" + told.readline().strip()

    def answers(self):
        asked = subprocess.run(["xdotool", "getdisplaygeometry"], env=self.environment(), capture_output=True, timeout=PATIENCE)
        return self.display != ":" and asked.returncode == 0 and self.server.poll() is None

    def environment(self):
        return dict(os.environ, DISPLAY=self.display, LIBGL_ALWAYS_SOFTWARE="1")

    def hands(self, *words):
        return subprocess.run(["xdotool", *words], env=self.environment(), check=True, capture_output=True, text=True,
                              timeout=PATIENCE).stdout

    def find(self, name, program=None):
        """The window with this in its title. The program that is to open it must not end before."""
        end = time.monotonic() + PATIENCE
        while time.monotonic() < end:
            if program is not None and program.poll() is not None:
                raise SystemExit(f"the program has ended without a window: {program.returncode}\n{program.stderr.read()}")
            found = subprocess.run(["xdotool", "search", "--name", name], env=self.environment(), capture_output=True,
                                   text=True, timeout=PATIENCE).stdout.split()
            if found:
                return found[-1]
            time.sleep(0.05)
        raise SystemExit(f"the window is not on the screen; the X server: {self.server.poll()}")

    def close(self):
        self.server.terminate()
        self.server.wait()
