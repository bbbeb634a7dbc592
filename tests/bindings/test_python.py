"""The Python module: runs, sweeps and figures against the program's, and every mistake an Error in words.
usage: test_python.py FOLDER PROGRAM"""
import csv
import io
import math
import pathlib
import subprocess
import sys
import tempfile
import unittest

import cursimeter
import numpy

folder, program = sys.argv[1], sys.argv[2]
BEARER = folder + "/demo/charts/bearer.toml"
KEEPER = folder + "/demo/charts/keeper.toml"
QUAY = folder + "/demo/drills/quay_boards.toml"


def ask(*arguments):
    return subprocess.run([program, *arguments], check=True, capture_output=True, text=True).stdout


class Tables(unittest.TestCase):
    def test_a_run_is_the_trace_of_the_program(self):
        run = cursimeter.run(BEARER, QUAY)
        rows = list(csv.DictReader(io.StringIO(ask("run", BEARER, "--drill", QUAY, "--trace", "-"))))
        self.assertEqual(len(run), len(rows))
        names = cursimeter.Chart(BEARER).names("states")
        for name in run.dtype.names:
            told = [float(names.index(row["state"])) if name == "state" else float(row[name]) for row in rows]
            self.assertTrue(numpy.array_equal(run[name], told), name)
        relay = cursimeter.run(BEARER, folder + "/demo/drills/relay_bearer.toml", folder + "/demo/courses/relay.toml", rate=30)
        self.assertGreater(relay["x_m"].max(), 100)

    def test_a_sweep_is_that_of_the_program(self):
        values = numpy.arange(6.0, 8.01, 0.5)
        swept = cursimeter.sweep(BEARER, "states.sprint.speed.forward", values, ["sprint.top_forward", "sprint.distance"])
        lines = ask("sweep", BEARER, "--vary", "states.sprint.speed.forward=6:8:0.5", "--figure", "sprint.top_forward",
                    "--figure", "sprint.distance").splitlines()[1:]
        for row, line in zip(swept, lines, strict=True):
            self.assertEqual([row[0], row[1], row[2]], [float(part) for part in line.split(",")[:3]])
        outside = cursimeter.sweep(BEARER, "states.sprint.speed.forward", [-5.0], ["sprint.top_forward"])
        self.assertTrue(numpy.isnan(outside["sprint.top_forward"][0]))

    def test_figures_are_those_of_the_program(self):
        figures = cursimeter.figures(BEARER)
        lines = csv.DictReader(io.StringIO(ask("figures", BEARER, "--csv")))
        told = {line["figure"]: line["bearer"] for line in lines}
        self.assertEqual(set(figures), set(told))
        for name, value in told.items():
            self.assertEqual(numpy.isnan(figures[name]), value == "", name)
            if value:
                self.assertEqual(figures[name], float(value), name)


class Runners(unittest.TestCase):
    def test_a_list_that_charts_do_not_have_is_named(self):
        with self.assertRaisesRegex(cursimeter.Error, "a chart has no list 'statess'; it has states, actions"):
            cursimeter.Chart(KEEPER).names("statess")

    def test_meters_cooldowns_modifiers_and_copies(self):
        runner = cursimeter.Chart(KEEPER).spawn((1, 2, 3))
        self.assertEqual(runner.position, (1.0, 2.0, 3.0))
        self.assertFalse(runner.spend("stamina", 1e6))
        self.assertTrue(runner.spend("stamina", 5))
        self.assertTrue(runner.use("dash") and runner.use("dash"))
        self.assertFalse(runner.use("dash"))
        self.assertEqual(runner.cooldown("dash").charges, 0)
        self.assertTrue(runner.grant("winded", 4))
        self.assertTrue(runner.modifier("winded").active)
        self.assertEqual(runner.could_enter("dash")[0], False)
        self.assertTrue(runner.push((1, 0, 0), 4.0, seconds=0.3))
        twin = runner.copy()
        for _ in range(40):
            runner.advance(forward=1, facing="movement")
            twin.advance(forward=1, facing="movement")
        self.assertEqual(runner.digest, twin.digest)

    def test_a_runner_is_saved_as_text(self):
        chart = cursimeter.Chart(KEEPER)
        runner = chart.spawn()
        runner.grant("winded", 4)
        for _ in range(40):
            runner.advance(forward=1)
        loaded = chart.restore(runner.save())
        self.assertEqual((loaded.digest, loaded.lost), (runner.digest, []))
        guest = cursimeter.Chart(BEARER).restore(runner.save())
        self.assertIn("modifier 'winded' is not in the new chart", guest.lost)
        guest.advance(forward=1)
        with self.assertRaisesRegex(cursimeter.Error, "saved runner: is none"):
            chart.restore("yesterday's")

    def test_a_chart_is_tuned_under_a_runner(self):
        text = pathlib.Path(KEEPER).read_text()
        with tempfile.TemporaryDirectory() as place:
            file = pathlib.Path(place, "keeper.toml")
            file.write_text(text)
            live = cursimeter.LiveChart(file)
            runner = live.chart.spawn()
            runner.advance(forward=1)
            self.assertFalse(live.take_in())
            file.write_text(text.replace("capacity = 100", "capcity = 100"))
            self.assertFalse(live.take_in())
            self.assertIn("did you mean 'capacity'?", live.mistakes[0])
            file.write_text(text.replace("capacity = 100", "capacity = 60") + "# longer\n")
            self.assertTrue(live.take_in())
            self.assertEqual(live.mistakes, [])
            self.assertEqual(runner.carry_over(live.chart), [])
            runner.advance(forward=1)
            self.assertEqual(runner.meter("stamina").capacity, 60)
            self.assertNotEqual(runner.carry_over(cursimeter.Chart(BEARER)), [])

    def test_mistakes_are_errors_in_words(self):
        with self.assertRaisesRegex(cursimeter.Error, "gone.toml: cannot be read") as caught:
            cursimeter.Chart("gone.toml")
        self.assertEqual(caught.exception.mistakes[0][0], "gone.toml")
        with self.assertRaisesRegex(cursimeter.Error, "mine:"):
            cursimeter.Chart(text="name = 1", name="mine")
        chart = cursimeter.Chart(BEARER)
        with self.assertRaisesRegex(cursimeter.Error, "did you mean 'sprint'"):
            chart.spawn().advance(held=["sprnt"])
        with self.assertRaisesRegex(cursimeter.Error, "bad seconds"):
            chart.spawn().advance(seconds=float("nan"))
        with self.assertRaises(cursimeter.Error):
            chart.spawn((float("inf"), 0, 0))
        with self.assertRaisesRegex(cursimeter.Error, "no figure of this chart"):
            cursimeter.sweep(BEARER, "states.sprint.speed.forward", [6.0], ["sprint.wings"])
        with self.assertRaisesRegex(cursimeter.Error, "is a course file"):
            cursimeter.Chart(folder + "/demo/courses/relay.toml")
        cursimeter.self_test()

    def test_angles_have_the_same_bits_everywhere(self):
        sine, cosine = cursimeter.sine_cosine(0.5)
        self.assertAlmostEqual(sine, math.sin(0.5), 12)
        self.assertAlmostEqual(cosine, math.cos(0.5), 12)
        self.assertAlmostEqual(cursimeter.arc_tangent(-1.0, -1.0), -0.75 * math.pi, 12)


if __name__ == "__main__":
    unittest.main(argv=sys.argv[:1])
