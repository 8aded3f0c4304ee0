"""What every check looks at, why it matters, and what to do: the page behind each finding."""

from dataclasses import dataclass

__all__ = ["EXPLAINED", "Explanation"]


@dataclass(frozen=True)
class Explanation:
    """title; looks : what is compared with what; matters : why; remedy : what usually puts it right."""

    title: str
    looks: str
    matters: str
    remedy: str


EXPLAINED: dict[str, Explanation] = {
    "no-storms": Explanation(
        "No storms to run", "The ensemble is empty, or asks for rain that the rainfall data do not hold.",
        "Without storms there is nothing to judge; extrapolated rain would be a guess.",
        "Choose durations, return periods and seasons inside the rainfall table on the Rain stage.",
    ),
    "block-incomplete": Explanation(
        "A block that makes no storm", "A block of storms lacks durations, return periods, or seasons and patterns.",
        "It adds nothing to the run, and a rule that counts on it stays unjudged.",
        "Choose what is missing, or remove the block.",
    ),
    "no-rainfall": Explanation(
        "No rainfall", "Storms are asked for, and there are no depths to make them of.", "Nothing can be run.",
        "Paste a depth table, type a formula, or give the 60-minute depth and its ratio on the Rain stage.",
    ),
    "rain-ends-early": Explanation(
        "The rainfall data end too early",
        "A duration or a return period of the ensemble lies outside the table, the formula or the growth factors.",
        "Rain beyond the data would be a guess, and the longest storms govern ponds.",
        "Take the missing rows from the source of the table, or leave the storm out.",
    ),
    "range-shortest": Explanation(
        "Governed by the shortest storm",
        "The storm that governs a rule has the shortest duration that was run.",
        "A shorter one may be worse: heads of runs and quick ground answer to the shortest bursts.",
        "Run the next shorter durations (the offered remedy) until another one governs.",
    ),
    "range-longest": Explanation(
        "Governed by the longest storm",
        "The storm that governs a rule has the longest duration that was run.",
        "A longer one may be worse: ponds and tanks answer to the longest storms.",
        "Run the next longer duration (the offered remedy) until another one governs.",
    ),
    "rain-small": Explanation(
        "Hardly any rain", "The worst storm against the greatest rain ever measured in its time.",
        "Depths in inches that are read as millimetres make every rule met.",
        "Look at the unit in the heading of the table.",
    ),
    "allowance-unusual": Explanation(
        "An unusual allowance", "Climate change allowances against 3 to 80 %.",
        "An allowance of 1.4 or of 140 per cent is mostly one of 40 typed otherwise.",
        "Type it in per cent: 40 for four tenths more.",
    ),
    "area-unit": Explanation(
        "An area out of scale", "Each catchment against the least and the largest of the project's usual limits.",
        "An area in another unit is wrong by ten thousand, and its node stays dry or drowns.",
        "Look at the unit of the area.",
    ),
    "paved-slight": Explanation(
        "Hardly paved", "Paved shares of 2 % and less, which are not nought.",
        "A share of 1 typed for all of it leaves the catchment all but dry.",
        "Type the paved share in per cent, or nought for green ground.",
    ),
    "size-small": Explanation(
        "A size that does not fit", "Each conduit against those beside it, and against 50 mm.",
        "One pipe with a point in the wrong place holds back all that lies above it.",
        "Look at its size and its unit.",
    ),
    "opening-small": Explanation(
        "An opening that blocks", "Openings of orifices against the least of the project's usual limits.",
        "A small opening is closed by a leaf, and the store above it floods.",
        "Choose a larger opening, or a vortex control, which lets out as little through a larger one.",
    ),
    "main-unusual": Explanation(
        "An unusual rising main", "Rising mains against 40 mm and 5 km.",
        "In another unit its loss takes the whole head of the pump, or none of it.",
        "Look at diameter, length and their units.",
    ),
    "outfall-ground": Explanation(
        "Ground below the outfall's invert", "The ground at each outfall against its invert.",
        "The section is drawn, and cover is judged, by a level that cannot be.", "Look at both levels.",
    ),
    "outfall-above-pipe": Explanation(
        "Outfall above its pipe's end", "The invert of each outfall against the lowest pipe that ends there.",
        "The last pipe would then stand full for ever, and its tail water is told by the wrong level.",
        "Lower the outfall to the pipe's end (the offered remedy), or raise the pipe.",
    ),
    "store-narrows": Explanation(
        "A store that narrows upwards", "The areas of a table at its base and its top.",
        "Rows in the wrong order, or a top typed for a base, give another volume.",
        "Look whether the rows are in order.",
    ),
    "node-far": Explanation(
        "Far from all others", "The place of each node against the middle of all.",
        "A digit too many takes an element out of sight and makes drawn lengths absurd.",
        "Look at its coordinates.",
    ),
    "rain-uniform": Explanation(
        "Long storms that fall evenly", "A season's storms of more than an hour have a uniform shape.",
        "Rain has bursts: a day that falls evenly hides the peak that pipes and manholes are built for.",
        "Choose a bell, a mass curve or another shape, or temporal patterns.",
    ),
    "pattern-missing": Explanation(
        "A duration without patterns", "Some durations of the ensemble have no temporal pattern.",
        "They are run with the seasons' shapes, or not at all: their peaks are not comparable with the others.",
        "Import the patterns of these durations, or leave the durations out.",
    ),
    "weir-coefficient": Explanation(
        "A weir coefficient beyond any weir", "C of a weir or a rim lies outside 1.0 to 2.3 m½/s.",
        "A figure of a table in feet, kept as it stands, lets 1.8 times too much over.",
        "Type it with its unit, such as 3.1 ft½/s, or take another from the form of the weir.",
    ),
    "flood-upright": Explanation(
        "A flood with upright sides", "Water above a cover is held on a fixed area, however high it rises.",
        "It piles up as in a box: levels far above the ground push water through pipes that it would never see.",
        "Let it widen by 1:50, take the slope from the terrain, or say that it is lost.",
    ),
    "boundary-short": Explanation(
        "Something given that ends before the storms do",
        "An inflow breaks off while it still flows, or a series of levels ends, before the rain of the longest storm.",
        "Behind its end the inflow is nothing and the last level stays: high water or a flow is left out unnoticed.",
        "Add rows up to the end of the longest storm. The page Boundaries of the Rain stage shows all of them.",
    ),
    "coefficient-off": Explanation(
        "A catchment that runs off unlike the others",
        "The share of rain that runs off is more than five times, or less than a fifth of, the middle of the others.",
        "A paved share of 0.6 typed as 0.6 %, or a method of another place, takes a peak away or makes one.",
        "Look at its paved share and its method.",
    ),
    "unit-flow-off": Explanation(
        "A runoff unlike that of the others",
        "The greatest runoff of each paved hectare at a node, over all storms, is more than five times, or less than a "
        "fifth of, the middle of the others.",
        "The same rain falls on all of them: a time of entry in another unit, or an area, is the usual reason.",
        "Look at the areas, times of entry and methods of the catchments that drain there.",
    ),
    "flood-deep": Explanation(
        "A deep flood", "In a storm that is in, water stands more than 0.5 m above a cover.",
        "On the ground it would have run off elsewhere: the level there, and all that it drives, is to be checked.",
        "Give it the area and slope of the ground, say that it is lost, or relieve the network.",
    ),
    "curve-extended": Explanation(
        "A shape reads below the table",
        "Alternating and Chicago storms take the depths of short times from the depth–duration curve, and the table "
        "begins later.",
        "Below the shortest duration intensity goes on as a power law of the first two: the peak is an extrapolation.",
        "Add the depths of 5 and 10 minutes, or choose a shape that needs none.",
    ),
    "mass-curve-duration": Explanation(
        "A 24-hour curve for another duration", "A mass curve made for 24 hours is squeezed or stretched.",
        "Its nested short bursts no longer have the depths that it was made for.", "Run it for 1440 minutes alone.",
    ),
    "interval-coarse": Explanation(
        "Rain in coarse steps", "The shortest storm, or a given one, has intervals longer than the quickest ground "
        "takes to answer.", "The mean over an interval hides the peak that a short pipe sees.",
        "Give the rain in finer intervals, or judge heads of runs by shorter storms.",
    ),
    "excluded-unknown": Explanation(
        "A storm left out that is not there", "A key on the list of storms left out names no storm of the ensemble.",
        "The list was made for another ensemble: look whether the storm meant is run.", "Take it off the list.",
    ),
    "rule-without-storms": Explanation(
        "A rule without storms", "A rule names a return period and an allowance that no storm of the ensemble has.",
        "The rule stays unjudged, and a verdict with an unjudged rule proves nothing.",
        "Add the return period with its allowance to the ensemble, or drop the rule.",
    ),
    "no-links": Explanation(
        "No pipe yet", "The network holds nodes but nothing that joins them.", "Water cannot leave.",
        "Add a pipe from a node to an outfall.",
    ),
    "no-outfall": Explanation(
        "No outfall", "No node of the network lets water out.", "All water would stay; the run could not end.",
        "End a pipe at an outfall.",
    ),
    "island": Explanation(
        "An island", "Some nodes are joined to each other but to no outfall.",
        "Their water goes nowhere. It is often a pipe that was never joined.",
        "Join it to the network, or give it an outfall of its own.",
    ),
    "no-way-out": Explanation(
        "No way to an outfall", "Following links downstream from a node never ends at an outfall.",
        "Water that enters there stays. A pipe may be drawn the wrong way round or missing.",
        "Add the missing pipe, or turn the pipe round.",
    ),
    "starts-at-outfall": Explanation(
        "A link starts at an outfall", "An outfall is the upstream end of a link.",
        "An outfall only takes water; the level outside is not part of the network.",
        "Turn the link round, or begin it at another node.",
    ),
    "cover-below-invert": Explanation(
        "Cover below invert", "The cover level of a node is not above its invert.",
        "The node has no depth. Levels and depths are easily mixed up in an import.",
        "Raise the cover or lower the invert.",
    ),
    "runs-uphill": Explanation(
        "Uphill or level", "The downstream invert of a conduit is not below its upstream one.",
        "Water stands in it and silt settles. Mostly two inverts were exchanged.",
        "Correct the inverts. A siphon that is meant so can be accepted.",
    ),
    "below-its-node": Explanation(
        "Below its node", "An end of a conduit lies below the invert of the node that it joins.",
        "The solver cannot let water in from below a node's floor.",
        "Lower the node to the conduit (the offered remedy), or raise the conduit's end.",
    ),
    "head-regained": Explanation(
        "Velocity head regained", "A conduit runs into a pond, a tank or water outside with an exit loss below 1.",
        "Water that runs into still water loses its velocity head; regained, it holds the level in the conduit down.",
        "Leave the exit loss at its start value. Accept it where the end widens smoothly into the water.",
    ),
    "soffit-above-cover": Explanation(
        "Soffit above the cover", "The top of a conduit stands higher than the ground at one of its nodes.",
        "It would lie in the open, and floods before it is full.", "Lower the conduit or choose a smaller size.",
    ),
    "shallow": Explanation(
        "Little ground over it", "The ground over a pipe at one of its ends is less than is usual on this site.",
        "Wheels crush shallow pipes, and frost and other services reach them.",
        "Lower it, protect it and accept the finding with a reason, or change what is usual.",
    ),
    "big-drop": Explanation(
        "A big drop", "A pipe enters a node much higher than the node's invert.",
        "Falling water wears the shaft and drags air along; mostly an invert was mistyped.",
        "Lower the downstream invert, or make it a drop shaft and accept the finding.",
    ),
    "smaller-downstream": Explanation(
        "Smaller than the pipe above", "A conduit is lower than one that arrives at its upstream node.",
        "What passes the larger may block in the smaller, and the node surcharges.",
        "Choose a size at least as large. A flow control by a small pipe can be accepted.",
    ),
    "leaves-higher": Explanation(
        "Leaves higher than water arrives", "A conduit leaves a node above the lowest invert that arrives there.",
        "Water stands in the node and the pipe above after every storm.", "Lower its upstream invert.",
    ),
    "unusual-roughness": Explanation(
        "Unusual roughness", "Manning's n of a pipe lies outside what is usual on this site.",
        "Capacity goes with 1/n: a slip of the decimal point changes it tenfold.",
        "Type n of the material: about 0.009 to 0.013 for smooth pipes, 0.024 for corrugated ones.",
    ),
    "slow": Explanation(
        "Slow when full", "The velocity of a full pipe at its gradient (Manning) is below what keeps it clean.",
        "Silt stays and takes capacity.", "Lay it steeper. A larger pipe helps little.",
    ),
    "fast": Explanation(
        "Fast when full", "The velocity of a full pipe at its gradient (Manning) is above what is usual.",
        "It wears, and air is dragged along.", "Lay it flatter and take the fall in a shaft.",
    ),
    "name-twice": Explanation(
        "A name twice", "Two nodes, or two links, have the same name.",
        "Tables, reports and imports that match by name cannot tell them apart.",
        "Rename one; the offered remedy adds a number.",
    ),
    "no-places": Explanation(
        "A network without coordinates", "Every node lies at one and the same point.",
        "Nothing can be seen on the plan; lengths and levels hold all the same.",
        "Give coordinates, or take the layout along the flow: a picture, not a survey.",
    ),
    "same-place": Explanation(
        "Two nodes at one place", "Two nodes lie within 0.3 m of each other on the plan.",
        "Mostly one of them came in twice, and pipes end at the wrong one.", "Remove one of them, or move it.",
    ),
    "length-against-drawing": Explanation(
        "Length against drawing", "The typed length differs from the drawn one by more than a quarter and 2 m.",
        "Friction and gradient follow the typed length.",
        "Take the drawn length (the offered remedy). On a drawing that is not to scale, accept it.",
    ),
    "pipes-clash": Explanation(
        "Pipes that clash", "Two pipes cross on the plan, and there each is inside the depth of the other.",
        "They cannot both be built.", "Lower or raise one of them, or join them at a node.",
    ),
    "catchment-without-node": Explanation(
        "A catchment drains nowhere", "A catchment names no node that receives its runoff.",
        "Its rain is left out: every figure is too small.",
        "Choose the node; the offered remedy takes the nearest shaft.",
    ),
    "runs-over-elsewhere": Explanation(
        "Runs over another, and names another node",
        "A catchment runs over another one that drains to another node than it names itself.",
        "Its water arrives with that of the one it runs over; areas by node count it where it says.",
        "Name the same node (the offered remedy), or let it drain to its own.",
    ),
    "catchment-at-outfall": Explanation(
        "A catchment at an outfall", "A catchment drains straight to an outfall.",
        "Its water would pass no pipe and no control.", "Choose a node upstream of it.",
    ),
    "catchment-far": Explanation(
        "A catchment far from its node", "The outline of a catchment lies further from its node than is usual.",
        "Mostly the wrong node was picked.", "Choose a nearer node, or accept it where a gutter leads there.",
    ),
    "area-against-outline": Explanation(
        "Area against outline", "The typed area differs from that of the outline by more than 5 %.",
        "Runoff follows the typed area.", "Take the outlined area (the offered remedy), or correct the outline.",
    ),
    "no-catchments": Explanation(
        "Nothing drains here", "The network has nodes but no catchment.", "Rain reaches nothing.", "Add a catchment.",
    ),
    "store-without-outlet": Explanation(
        "A store without an outlet", "No link leaves a store, and nothing infiltrates from it.",
        "It fills from storm to storm and never half drains.",
        "Give it an orifice, a weir, a pipe, a pump, or infiltration.",
    ),
    "store-unused": Explanation(
        "A store that stays empty", "With all storms in, none took a tenth of what a store holds.",
        "It costs and does nothing: its outlet may let all through, or nothing drains to it.",
        "Let its outlet hold back, or leave the store out.",
    ),
    "pump-lift": Explanation(
        "A pump below its static lift", "The static lift at the level where it starts exceeds its shut-off head.",
        "It turns, takes power, and lifts nothing: all that reaches it stays.",
        "Choose a pump for that head, or correct its curve, its levels or where its main pours out.",
    ),
    "storms-balance": Explanation(
        "Water missing", "More than 0.01 % of the water of a storm is missing from its balance.",
        "Its volumes are not to be trusted.", "Compute it on finer cells; look where levels jump.",
    ),
    "storms-level": Explanation(
        "A level that oscillates", "A level turns back and forth by more than 20 mm from step to step.",
        "Its peak may be one of the computation.", "Look at short or steep conduits there; Storms shows the trace.",
    ),
    "storms-flow": Explanation(
        "A flow that oscillates", "A flow turns back and forth by more than 5 % of its own peak.",
        "Its peak may be one of the computation.", "Look at short or steep conduits there; Storms shows the trace.",
    ),
    "storms-pressure": Explanation(
        "A level far above the ground", "A level stands more than 30 m above the ground, where nothing floods from.",
        "It is what the network as entered would need; no cover and no joint holds it, so the flow below is too high.",
        "Look at sizes, levels and flaps below, or let the cover open.",
    ),
    "storms-curve": Explanation(
        "A control beyond its curve", "A head or a lift lies beyond the last point of a control's curve.",
        "Its flow is held there: what it would really pass is not known.", "Extend the curve from its maker's table.",
    ),
    "storms-cut-off": Explanation(
        "A storm that was cut off", "The run of a storm ended after 14 days, before it was over.",
        "What had not drained by then is not told.", "Let its stores drain, or say when a storm ends.",
    ),
    "control-idle": Explanation(
        "A control that nothing reaches", "With all storms in, nothing passed a control in any of them.",
        "It may lie too high, or a level may be wrong; an overflow for rarer storms is meant so.",
        "Look at its level, or accept it.",
    ),
    "deep": Explanation(
        "Deeper than shafts are", "From cover to invert is more than the limit, 6 m at first.",
        "A cover or an invert on another datum makes a deep shaft: it never floods, and hides that it would.",
        "Look whether both levels are on one datum.",
    ),
    "shaft-large": Explanation(
        "A shaft as large as a tank", "The plan area of a shaft is more than the limit, 20 m² at first.",
        "It stores what no shaft holds: peaks downstream come out too low.",
        "Type the area of the shaft; make a tank of what is one.",
    ),
    "ponded-large": Explanation(
        "A flood over a large area at once", "A ponded area is more than the limit, 5,000 m² at first.",
        "Any flood then stands a hair's breadth deep and never comes back quickly.",
        "Type the area around the cover, with a side slope by which it widens.",
    ),
    "table-ends-low": Explanation(
        "A table that ends under the bank",
        "The depth–area table of a store ends below its bank, and not in a narrow shaft.",
        "The last area is carried up to the bank: volume that nobody has typed.",
        "Add the area at the bank, or lower the bank.",
    ),
    "silt-deep": Explanation(
        "Deep silt", "Silt fills more of a pipe's height than the limit, a quarter at first.",
        "Much of its capacity is gone; a depth in another unit does the same.", "Type the depth on the invert.",
    ),
    "opening-below-floor": Explanation(
        "An opening below the floor", "A control lies below the floor of the node that it leaves.",
        "What it draws ceases with the water over the floor: its own law does not hold there.",
        "Raise it to the floor, or lower the floor.",
    ),
    "opening-large": Explanation(
        "An orifice that throttles nothing", "The opening is higher than every conduit that leaves the node below it.",
        "The conduit limits the flow, not the orifice; often its unit is wrong.", "Type the size of the opening.",
    ),
    "weir-long": Explanation(
        "A weir longer than its store", "The crest is longer than the edge of a square of the node's plan area.",
        "It has no place there, and passes any flood without a head.", "Type the length of the crest.",
    ),
    "tail-water-high": Explanation(
        "Tail water above covers", "The water outside an outfall stands at or above covers of its network.",
        "It would come up through them before any rain.", "Look at its datum, or give the outfall a flap.",
    ),
    "tail-water-low": Explanation(
        "Tail water far below its outfall", "The water outside never comes within 2 m of the outfall's invert.",
        "It does nothing; on another datum it might have drowned the outfall.", "Look at its datum.",
    ),
    "permit-large": Explanation(
        "A permit that nothing exceeds",
        "The permitted rate for each hectare that drains there is more than the limit, 500 L/s at first.",
        "The rule is met whatever runs off; a rate in another unit does that.", "Look at the unit of the rate.",
    ),
    "size-jumps": Explanation(
        "A pipe that does not fit its run", "A pipe is more than 2.5 times as high as any that it is joined to.",
        "A size in another unit stores and carries what the built pipe will not.", "Look at its size and unit.",
    ),
    "cover-off": Explanation(
        "A cover that stands out", "A cover differs from all beside it by more than 3 m and a quarter of the way.",
        "Too high it never floods; too low it floods alone.", "Look at its level.",
    ),
    "area-off": Explanation(
        "An area that stands out",
        "A catchment without an outline has three times the next largest area and five times the middle one.",
        "A slip of one digit decides the size of everything below.", "Look at its area, or draw its outline.",
    ),
    "paved-none": Explanation(
        "Nothing paved", "A catchment has no paved part, where three quarters of the others have.",
        "Nothing runs off it at once.", "Type its paved share, or accept that it is green.",
    ),
    "rim-low": Explanation(
        "Low ground on a rim",
        "The ground on the rim of a pond lies more than 5 cm below its bank, and no bank is built.",
        "The pond spills there: its volume and its freeboard count to that ground, not to the bank.",
        "Build a bank, whose fill is then told, lower the bank, or move the outline.",
    ),
    "stone-not-all": Explanation(
        "Stone that never fills",
        "The top of sloping stone rises above its lowest surface, by more than a hundredth of its voids.",
        "Water leaves at the lowest surface: what of the stone lies above that stores nothing.",
        "Divide it by check dams into flatter stores, or let it be deeper at its foot.",
    ),
    "rim-below-base": Explanation(
        "A rim below the base", "The lowest ground on the rim of a pond is not above its base.",
        "The pond holds nothing and cannot be run.", "Lower the base, build a bank, or move the outline.",
    ),
    "store-vast": Explanation(
        "A store beyond its catchments", "A store holds more than the limit for the paved ground above it, 500 mm.",
        "It never fills, and all behind it is met.", "Look at its areas and depths, and at what drains to it.",
    ),
    "creep-large": Explanation(
        "Much urban creep", "Paved area is to grow by more than the limit, 30 % at first.",
        "10 % are usual; a share typed as per cent of itself doubles the area.", "Type the growth of the paved area.",
    ),
    "creep-idle": Explanation(
        "Creep that changes nothing", "A catchment with urban creep runs off by a curve number.",
        "A curve number knows no paved ground, so that its growth is not in any figure.",
        "Raise the curve number for the future state, or choose a method with paved ground.",
    ),
    "entry-long": Explanation(
        "A long time of entry", "Water takes longer to enter than the limit, an hour at first.",
        "It takes the peak away: pipes look larger than they are.", "Type it in minutes.",
    ),
    "rain-made-up": Explanation(
        "Rainfall of no place", "The rainfall is still the start values of the program.",
        "They show that a model runs; what they say of a site is worth nothing.",
        "Paste or type the rainfall of the site, with its source.",
    ),
    "rain-great": Explanation(
        "Rain near the greatest ever measured",
        "A storm's depth is more than half of the envelope of the greatest rains, 422 mm times the hours to 0.475.",
        "Depths in another unit, or an allowance of 400 %, do that.", "Look at the unit of the depths.",
    ),
    "coefficient-small": Explanation(
        "Little runs off paved ground", "The runoff coefficient of paved ground is less than the limit, 0.3 at first.",
        "0.7 to 0.95 are usual: with less, every pipe is met.", "Type the coefficient of paved ground.",
    ),
    "store-overfull": Explanation(
        "Full before the storm", "The water that stands in a store at first is above its bank.",
        "It floods before any rain.", "Lower the initial depth, or raise the bank.",
    ),
    "stone-above-ground": Explanation(
        "Stone above the ground", "The stone of a store ends above its surface level.",
        "It holds less than its depth suggests.", "Lower the stone's depth, or raise the surface.",
    ),
    "control-above-cover": Explanation(
        "A control that can never act", "The sill of a control is not below the cover of the node that it drains.",
        "Water would flood before it passes.", "Lower the control, or check the cover.",
    ),
    "curve-general": Explanation(
        "A general curve", "A flow curve is the general one of vortex controls, made from its design head and flow.",
        "Makers' curves differ below the design head, and with them the volume that is held back.",
        "Paste the maker's table of head and flow.",
    ),
    "curve-falls": Explanation(
        "A curve that falls", "The flow of a control's curve falls with rising head somewhere.",
        "A vortex control does so while it starts; in any other curve it is a slip.",
        "Correct the curve, or accept it.",
    ),
    "pump-levels": Explanation(
        "Pump levels", "A pump starts above the cover, or stops below the floor, of its node.",
        "It would start in floods only, or never stop.", "Correct its on and off levels.",
    ),
    "inlet-circle": Explanation(
        "Inlets in a circle", "What inlets do not take runs on to each other in a circle.",
        "That water would never arrive.", "Let one of them pass on elsewhere.",
    ),
    "inlet-without-bypass": Explanation(
        "An inlet without a way on", "An inlet takes only so much, and names no node that the rest runs on to.",
        "The rest is lost to the network and counted as passed by.", "Name the node that it runs on to, or accept it.",
    ),
}  # fmt: skip
