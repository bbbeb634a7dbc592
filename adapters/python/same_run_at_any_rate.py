# One drill, three tick rates, one run: the states change at the same times to the microsecond.
import cursimeter

names = cursimeter.Chart("demo/charts/bearer.toml").names("states")
for rate in (20.0, 60.0, 240.0):
    run = cursimeter.run("demo/charts/bearer.toml", "demo/drills/quay_boards.toml", rate=rate)
    entered = cursimeter.visits("demo/charts/bearer.toml", "demo/drills/quay_boards.toml", rate=rate)[3]
    print(f"{rate:3.0f} Hz: {names[int(entered['state'])]} again at {entered['at_s']:.6f} s, {run['distance_m'][-1]:.6f} m in all")
