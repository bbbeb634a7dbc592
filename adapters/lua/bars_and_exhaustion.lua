-- Bars, and what exhaustion does: the numbers that a game's interface reads after each tick.
local cursimeter = require "cursimeter"
local chart = cursimeter.load("demo/charts/keeper.toml")
local keeper = chart:spawn()
for tick = 1, 60 * 16 do
    local report = keeper:advance{forward = 1, held = {"sprint"}, seconds = 1 / 60}
    for _, event in ipairs(report.events) do
        if event.kind == "began" or event.kind == "ended" then
            print(("         %s %s"):format(event.subject, event.kind))
        end
    end
    if tick % 120 == 0 then
        local bar = keeper:meter("stamina")
        print(("%4.1f s  stamina %3.0f %%%s  %.2f m/s"):format(keeper.clock, 100 * bar.fraction,
            bar.spent and " spent" or "", keeper.speed))
    end
end
print(("a potion gave %.1f"):format(keeper:fill("stamina", 50)))
print("a push of the bell rope for 20: " .. (keeper:spend("stamina", 20) and "yes" or "no"))
print("and for 200: " .. (keeper:spend("stamina", 200) and "yes" or "no"))
