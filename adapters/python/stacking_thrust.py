# Thrust that builds up stack by stack while the oar is pulled, and coasts down afterwards.
import cursimeter

chart = cursimeter.Chart("demo/charts/keeper.toml")
for pulled in (0.5, 2.0):
    keeper = chart.spawn()
    fastest = coasting = 0.0
    most = 0
    for tick in range(600):
        held = ["oar"] if tick / 60.0 < pulled else []
        report = keeper.advance(forward=1, held=held, seconds=1 / 60)
        pull = keeper.modifier("pull")
        most = max(most, pull.stacks)
        fastest = max(fastest, keeper.speed)
        coasting += report.seconds if not held and pull.active else 0.0
    print(f"pulled for {pulled:.1f} s: {most} stacks, {fastest:.2f} m/s at most, coasting for {coasting:.1f} s")
