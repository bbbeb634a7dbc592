-- Two systems ban sprinting, each for its own reason; each lifts only its own.
local cursimeter = require "cursimeter"
local chart = cursimeter.load("demo/charts/keeper.toml")
local keeper = chart:spawn()

local function walk_on(held, what)
    print(what)
    for _ = 1, 30 do
        for _, event in ipairs(keeper:advance{forward = 1, held = held, seconds = 1 / 60}.events) do
            if event.kind == "entered" then
                print(("    %s (%s)"):format(event.subject, event.cause))
            end
        end
    end
end

walk_on({"sprint"}, "the keeper sprints")
keeper:block("narrow_pier")
walk_on({"sprint"}, "onto the narrow pier")
keeper:block("conversation")
keeper:unblock("narrow_pier")
walk_on({"sprint"}, "off it, but talking")
local possible, why = keeper:could_enter("sprint")
print("    sprint? " .. (possible and "yes" or why))
keeper:unblock("conversation")
walk_on({"sprint"}, "the talk is over, the key still down")
walk_on({}, "the key goes up")
walk_on({"sprint"}, "and down again")
