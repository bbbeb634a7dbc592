# A bearer from Python: load a chart, hand over what is held, advance, read what happened.
import cursimeter

chart = cursimeter.Chart("demo/charts/bearer.toml")
runner = chart.spawn()
for tick in range(600):  # ten seconds at 60 ticks a second
    report = runner.advance(forward=1, held=["sprint"], seconds=1 / 60)
    for event in report.events:
        if event.kind == "entered":
            print(f"{event.subject} ({event.cause})")
print(f"{runner.position[0]:.2f} m, stamina {runner.meter('stamina').level:.1f}")
# expected output:
# sprint (enter: sprint on)
# walk (stay failed: stamina > 0)
# 56.31 m, stamina 17.2
