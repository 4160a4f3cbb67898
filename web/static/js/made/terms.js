// Made by go generate ./core/terms. What is wrong here is mended there.

/**
 * @typedef {object} Figure
 * @property {string} name
 * @property {string} label
 * @property {string} what
 * @property {string} [unit]
 * @property {number} min
 * @property {number} max
 * @property {number} [step]
 * @property {number} [usual]
 * @property {boolean} [whole]
 * @property {number} [low]
 * @property {number} [high]
 * @property {number} [reach]
 * @property {number} [scale]
 * @property {string} [shown]
 * @property {string} [zero]
 * @property {string} [flag]
 * @property {string} [help]
 */

/**
 * @typedef {object} Option
 * @property {string} name
 * @property {string} label
 * @property {string} [help]
 * @property {string} [flag]
 * @property {string} [unit]
 */

/**
 * @typedef {object} Choice
 * @property {string} name
 * @property {string} label
 * @property {string} what
 * @property {string} [flag]
 * @property {string} [help]
 * @property {Option[]} options
 */

/**
 * @typedef {object} Piece
 * @property {string} form
 * @property {number} t
 * @property {number} f
 * @property {boolean} [half]
 */

/**
 * @typedef {object} Profile
 * @property {string} name
 * @property {string} label
 * @property {string} help
 * @property {boolean} [full]
 * @property {boolean} [drawn]
 * @property {Piece[]} [lines]
 */

/**
 * @typedef {object} Track
 * @property {string} name
 * @property {string} label
 * @property {string} unit
 * @property {number} rest
 * @property {string[]} of
 */

/**
 * @typedef {object} Word
 * @property {string} name
 * @property {string} means
 */

/**
 * @typedef {object} Amount
 * @property {string} name
 * @property {string} label
 * @property {number} usual
 */

/**
 * @typedef {object} Addition
 * @property {string} name
 * @property {string} label
 * @property {Amount[]} figures
 * @property {Option[]} [ways]
 * @property {number} places
 * @property {boolean} [writes]
 * @property {string} hint
 */

/**
 * All figures by their names.
 * @type {Record<string, Figure>}
 */
export const figures = {
  "aspect": {"name":"aspect","label":"","what":"The ratio of width to height","min":0.05,"max":20},
  "bend": {"name":"bend","label":"","what":"The bend","min":-1,"max":1,"step":0.1},
  "bevelHeight": {"name":"bevelHeight","label":"Height","what":"The bevel's height","unit":"mm","min":0,"max":100000,"step":0.5,"usual":1,"high":0.5,"reach":0.12,"flag":"bevel-height","help":"How far the bevel reaches down from the face."},
  "bevelWidth": {"name":"bevelWidth","label":"Width","what":"The bevel's width","unit":"mm","min":0,"max":100000,"step":0.5,"usual":1,"high":0.5,"reach":0.12,"flag":"bevel","help":"How far the bevel reaches inward, or outward; on the command line its height as well."},
  "brushTurn": {"name":"brushTurn","label":"Brush angle","what":"The turn of the brush","unit":"°","min":-3600,"max":3600,"step":5,"low":-90,"high":90},
  "camera.blur": {"name":"camera.blur","label":"Aperture","what":"The f-number","unit":"f/","min":0,"max":128,"step":0.5,"high":16,"zero":"all sharp","help":"Smaller numbers blur more of what is nearer or farther."},
  "camera.distance": {"name":"camera.distance","label":"Distance","what":"The distance","unit":"mm","min":-10000000,"max":10000000,"step":10,"high":3000,"zero":"fits"},
  "camera.focal": {"name":"camera.focal","label":"Focal length","what":"The focal length","unit":"mm","min":8,"max":2000,"step":5,"usual":70,"low":14,"high":300},
  "camera.height": {"name":"camera.height","label":"Elevation","what":"The elevation of the camera","unit":"°","min":-90,"max":90,"step":5,"usual":10,"low":-90,"high":90,"help":"Above the horizon."},
  "camera.level": {"name":"camera.level","label":"Roll","what":"The roll of the camera","unit":"°","min":-3600,"max":3600,"step":5,"low":-45,"high":45},
  "camera.margin": {"name":"camera.margin","label":"Margin","what":"The margin","min":0,"max":1,"step":0.01,"usual":0.12,"high":0.4,"scale":100,"shown":"%","help":"What stays free around the piece where the camera fits it."},
  "camera.shift.x": {"name":"camera.shift.x","label":"Shift X","what":"The shift","min":-2,"max":2,"step":0.01,"low":-0.5,"high":0.5,"scale":100,"shown":"%","help":"Moves the picture without turning the camera, as a share of its width."},
  "camera.shift.y": {"name":"camera.shift.y","label":"Shift Y","what":"The shift","min":-2,"max":2,"step":0.01,"low":-0.5,"high":0.5,"scale":100,"shown":"%"},
  "camera.turn": {"name":"camera.turn","label":"Rotation","what":"The rotation of the camera","unit":"°","min":-3600,"max":3600,"step":5,"usual":-24,"low":-180,"high":180,"help":"Around the piece."},
  "clear": {"name":"clear","label":"Transparency","what":"The transparency","min":0,"max":1,"step":0.05,"high":1,"scale":100,"shown":"%","help":"How much light is let through."},
  "clearance": {"name":"clearance","label":"Clearance","what":"The clearance","unit":"mm","min":0,"max":100,"step":0.05,"high":2,"flag":"clearance","help":"The gap that neighbours leave between them, so that they can be put together."},
  "clip": {"name":"clip","label":"Frame","what":"The frame","min":0,"max":216000,"step":1},
  "coat": {"name":"coat","label":"Lacquer","what":"The lacquer","min":0,"max":1,"step":0.05,"high":1,"scale":100,"shown":"%","help":"A clear coat over the surface."},
  "coatRough": {"name":"coatRough","label":"Lacquer roughness","what":"The roughness of lacquer","min":0,"max":1,"step":0.05,"high":1,"scale":100,"shown":"%"},
  "colours": {"name":"colours","label":"Number","what":"The number of colours","min":2,"max":64,"step":1,"usual":6,"whole":true,"flag":"colours","help":"Gathers near shades to so many colours before parts are made."},
  "crease": {"name":"crease","label":"Crease angle","what":"The crease angle","unit":"°","min":0,"max":180,"step":5,"usual":30,"help":"Edges sharper than this look hard."},
  "curves": {"name":"curves","label":"","what":"The number of own profiles","min":0,"max":200},
  "damping": {"name":"damping","label":"Damping","what":"The damping","min":1,"max":20,"step":0.5,"usual":6,"help":"How fast swings become weaker."},
  "deep": {"name":"deep","label":"Colour depth","what":"The way inside","unit":"mm","min":0.01,"max":10000,"step":1,"usual":5,"low":0.5,"high":60,"help":"After so much way inside light has the colour."},
  "depth": {"name":"depth","label":"Depth","what":"The depth","unit":"mm","min":0.01,"max":100000,"step":0.5,"usual":8,"low":0.01,"high":1,"reach":0.5,"flag":"depth","help":"How thick parts are, bevels included; of a recess how far it goes in."},
  "distance": {"name":"distance","label":"Length","what":"The distance","unit":"mm","min":0.1,"max":100000,"step":1,"help":"What the measured distance is to be; the piece follows."},
  "edits": {"name":"edits","label":"","what":"The number of changed shapes","min":0,"max":400000},
  "exposure": {"name":"exposure","label":"Exposure","what":"The exposure","unit":"stops","min":-24,"max":24,"step":0.25,"low":-6,"high":6},
  "fonts": {"name":"fonts","label":"","what":"The number of fonts","min":0,"max":40},
  "frame.height": {"name":"frame.height","label":"Height","what":"The height of the frame","unit":"mm","min":0.1,"max":100000,"step":1,"usual":100},
  "frame.margin": {"name":"frame.margin","label":"Margin","what":"The margin of the frame","unit":"mm","min":0,"max":100000,"step":0.5,"usual":5,"help":"Kept free all round."},
  "frame.width": {"name":"frame.width","label":"Width","what":"The width of the frame","unit":"mm","min":0.1,"max":100000,"step":1,"usual":100},
  "frames": {"name":"frames","label":"","what":"The number of own frames","min":0,"max":200},
  "given": {"name":"given","label":"","what":"The number of colours of a palette","min":2,"max":64,"step":1},
  "glow": {"name":"glow","label":"Glow","what":"The glow","unit":"×","min":0,"max":1000,"step":0.5,"high":20,"help":"Light given off, as a multiple of white."},
  "grain": {"name":"grain","label":"Grain","what":"The size of the grain","unit":"mm","min":0,"max":1000,"step":0.05,"high":3,"zero":"smooth"},
  "groups": {"name":"groups","label":"","what":"The number of groups","min":0,"max":10000},
  "handle": {"name":"handle","label":"","what":"The height of a drawn curve's handle","min":-10,"max":10,"step":0.05},
  "height": {"name":"height","label":"Height","what":"The side","unit":"mm","min":0.1,"max":100000,"step":1,"usual":100,"flag":"height","help":"Height of the piece; the width follows."},
  "heights.colours": {"name":"heights.colours","label":"Filaments","what":"The number of filaments","min":2,"max":64,"step":1,"usual":4,"whole":true},
  "heights.plate": {"name":"heights.plate","label":"Lowest colour","what":"The height of the lowest colour","unit":"mm","min":0.01,"max":100000,"step":0.2,"usual":0.8},
  "heights.step": {"name":"heights.step","label":"Each step","what":"The height of each step","unit":"mm","min":0.01,"max":100000,"step":0.2,"usual":0.4},
  "index": {"name":"index","label":"Refraction","what":"The index of refraction","min":1,"max":2.5,"step":0.05,"usual":1.5,"low":1,"high":2.5,"help":"How much light is bent: water 1.33, glass 1.5, diamond 2.4."},
  "keys": {"name":"keys","label":"","what":"The number of keys","min":1,"max":4000},
  "knots": {"name":"knots","label":"","what":"The number of points of a profile","min":0,"max":24},
  "lamp.aim.x": {"name":"lamp.aim.x","label":"Aim X","what":"The place in the scene","unit":"mm","min":-10000000,"max":10000000,"step":5,"help":"What it looks at, to the right of the middle."},
  "lamp.aim.y": {"name":"lamp.aim.y","label":"Aim Y","what":"The place in the scene","unit":"mm","min":-10000000,"max":10000000,"step":5,"help":"Up from there."},
  "lamp.aim.z": {"name":"lamp.aim.z","label":"Aim Z","what":"The place in the scene","unit":"mm","min":-10000000,"max":10000000,"step":5,"help":"Toward the camera from there."},
  "lamp.cone": {"name":"lamp.cone","label":"Cone","what":"The angle of a lamp","unit":"°","min":0,"max":179,"step":5,"usual":40,"low":1,"high":120},
  "lamp.diameter": {"name":"lamp.diameter","label":"Diameter","what":"The place in the scene","unit":"mm","min":-10000000,"max":10000000,"step":5},
  "lamp.disc": {"name":"lamp.disc","label":"Disc","what":"The angle of a lamp","unit":"°","min":0,"max":179,"step":0.5,"usual":1,"high":20,"help":"How large the sun looks; larger ones throw softer shadows."},
  "lamp.height": {"name":"lamp.height","label":"Height","what":"The place in the scene","unit":"mm","min":-10000000,"max":10000000,"step":5},
  "lamp.kelvin": {"name":"lamp.kelvin","label":"Temperature","what":"The colour temperature","unit":"K","min":0,"max":40000,"step":100,"high":12000,"zero":"white"},
  "lamp.strength": {"name":"lamp.strength","label":"Strength","what":"The strength","unit":"stops","min":-24,"max":24,"step":0.25,"low":-6,"high":6,"help":"0 lights a white surface fully."},
  "lamp.width": {"name":"lamp.width","label":"Width","what":"The place in the scene","unit":"mm","min":-10000000,"max":10000000,"step":5},
  "lamp.x": {"name":"lamp.x","label":"X","what":"The place in the scene","unit":"mm","min":-10000000,"max":10000000,"step":5,"help":"To the right of the middle of the piece."},
  "lamp.y": {"name":"lamp.y","label":"Y","what":"The place in the scene","unit":"mm","min":-10000000,"max":10000000,"step":5,"help":"Up from there."},
  "lamp.z": {"name":"lamp.z","label":"Z","what":"The place in the scene","unit":"mm","min":-10000000,"max":10000000,"step":5,"help":"Toward the camera from there."},
  "lamps": {"name":"lamps","label":"","what":"The number of lamps","min":0,"max":64},
  "level": {"name":"level","label":"Level","what":"The level","min":0,"max":60,"step":1,"whole":true,"zero":"automatic"},
  "mend.gap": {"name":"mend.gap","label":"Gap","what":"The gap","unit":"mm","min":0,"max":100,"step":0.05,"usual":0.5,"help":"Ends and neighbours nearer than this were meant to meet."},
  "mend.refit": {"name":"mend.refit","label":"Deviation of new curves","what":"The deviation of new curves","unit":"mm","min":0.0005,"max":5,"step":0.005,"usual":0.02,"help":"How far an outline with fewer nodes may depart from the old one."},
  "mend.scrap": {"name":"mend.scrap","label":"Smallest shape","what":"The smallest shape","unit":"mm","min":0,"max":100,"step":0.1,"usual":0.6,"help":"Shapes smaller than this in both directions count as scraps."},
  "mend.slot": {"name":"mend.slot","label":"Smallest hole","what":"The smallest hole","unit":"mm","min":0,"max":100,"step":0.1,"usual":0.5,"help":"Holes and slots narrower than this close when printed or painted."},
  "mend.thin": {"name":"mend.thin","label":"Smallest width","what":"The smallest width","unit":"mm","min":0,"max":100,"step":0.1,"usual":0.8,"help":"Strokes and bridges thinner than this break."},
  "mend.tip": {"name":"mend.tip","label":"Sharpest tip","what":"The sharpest tip","unit":"°","min":0,"max":90,"step":1,"usual":15,"help":"Tips sharper than this break off or prick."},
  "mend.weld": {"name":"mend.weld","label":"Doubled nodes within","what":"The distance of doubled nodes","unit":"mm","min":0,"max":5,"step":0.005,"usual":0.01,"help":"Nodes nearer to each other are one."},
  "mendLength": {"name":"mendLength","label":"Length","what":"The length in a mend","unit":"mm","min":-100000,"max":100000,"step":0.1},
  "mendText": {"name":"mendText","label":"","what":"The length of a lettering","min":0,"max":400},
  "mendTurn": {"name":"mendTurn","label":"Angle","what":"The turn","unit":"°","min":-360000,"max":360000,"step":15,"usual":90},
  "mends": {"name":"mends","label":"","what":"The number of mends","min":0,"max":20000},
  "metal": {"name":"metal","label":"Metal","what":"The metal","min":0,"max":1,"step":0.05,"high":1,"scale":100,"shown":"%","help":"Metals mirror in their own colour."},
  "move.delay": {"name":"move.delay","label":"Delay","what":"The delay","unit":"s","min":0,"max":3600,"step":0.1,"usual":0.2,"help":"Each starts so much later than the one before."},
  "move.from": {"name":"move.from","label":"Starts at","what":"The start of a move","unit":"s","min":0,"max":3600,"step":0.1},
  "move.lasts": {"name":"move.lasts","label":"Duration","what":"The duration","unit":"s","min":0,"max":3600,"step":0.1,"zero":"to the end"},
  "move.overlap": {"name":"move.overlap","label":"Overlap","what":"The overlap of moves","min":0,"max":1,"step":0.1,"scale":100,"shown":"%","zero":"by delay","flag":"overlapping","help":"How much of its time each overlaps the next."},
  "move.pivot.x": {"name":"move.pivot.x","label":"Pivot X","what":"The place in the scene","unit":"mm","min":-10000000,"max":10000000,"step":5,"help":"The point that they turn about."},
  "move.pivot.y": {"name":"move.pivot.y","label":"Pivot Y","what":"The place in the scene","unit":"mm","min":-10000000,"max":10000000,"step":5},
  "move.seed": {"name":"move.seed","label":"Random seed","what":"The random seed","min":0,"max":216000,"step":1,"usual":1,"whole":true},
  "move.x": {"name":"move.x","label":"From X","what":"The place in the scene","unit":"mm","min":-10000000,"max":10000000,"step":5,"help":"The point that they follow each other from."},
  "move.y": {"name":"move.y","label":"From Y","what":"The place in the scene","unit":"mm","min":-10000000,"max":10000000,"step":5},
  "name": {"name":"name","label":"","what":"The length of a name","min":0,"max":120},
  "offset": {"name":"offset","label":"Offset","what":"The offset","unit":"mm","min":-100000,"max":100000,"step":0.5,"low":-1,"high":1,"reach":0.25,"flag":"offset","help":"How far in front of the plane a part starts."},
  "page": {"name":"page","label":"Page","what":"The page","min":0,"max":100000,"step":1,"whole":true},
  "paints": {"name":"paints","label":"","what":"The number of materials","min":0,"max":400},
  "parts": {"name":"parts","label":"","what":"The number of parts with measures of their own","min":0,"max":20000},
  "path.x": {"name":"path.x","label":"X","what":"The place in the scene","unit":"mm","min":-10000000,"max":10000000,"step":5,"help":"To the right."},
  "path.y": {"name":"path.y","label":"Y","what":"The place in the scene","unit":"mm","min":-10000000,"max":10000000,"step":5,"help":"Up."},
  "path.z": {"name":"path.z","label":"Z","what":"The place in the scene","unit":"mm","min":-10000000,"max":10000000,"step":5,"help":"Toward the camera."},
  "paths": {"name":"paths","label":"","what":"The number of paths","min":0,"max":400},
  "picture.from": {"name":"picture.from","label":"First frame","what":"The first frame","min":0,"max":216000,"step":1,"whole":true},
  "picture.side": {"name":"picture.side","label":"Longer side","what":"The longer side of a picture","unit":"px","min":1,"max":8192,"step":10,"usual":1920,"whole":true},
  "picture.to": {"name":"picture.to","label":"Last frame","what":"The last frame","min":0,"max":216000,"step":1,"whole":true},
  "place": {"name":"place","label":"","what":"The place in the scene","unit":"mm","min":-10000000,"max":10000000,"step":5},
  "points": {"name":"points","label":"","what":"The number of points of a path","min":2,"max":100},
  "print.copies": {"name":"print.copies","label":"Copies","what":"The number of copies","min":1,"max":200,"step":1,"usual":1,"whole":true},
  "print.density": {"name":"print.density","label":"Infill density","what":"The density of infill","min":0,"max":1,"step":0.05,"usual":0.2,"scale":100,"shown":"%"},
  "print.fillSpeed": {"name":"print.fillSpeed","label":"Infill and solid","what":"The speed","unit":"mm/s","min":1,"max":1000,"step":5,"usual":100},
  "print.first": {"name":"print.first","label":"First layer","what":"The layer","unit":"mm","min":0.02,"max":2,"step":0.04,"usual":0.2},
  "print.firstSpeed": {"name":"print.firstSpeed","label":"First layer","what":"The speed","unit":"mm/s","min":1,"max":1000,"step":5,"usual":25},
  "print.floors": {"name":"print.floors","label":"Solid layers","what":"The number of solid layers","min":0,"max":50,"step":1,"usual":4,"whole":true,"help":"Below and above."},
  "print.foot": {"name":"print.foot","label":"First layer inward","what":"The correction for the nozzle","unit":"mm","min":-0.5,"max":0.5,"step":0.02,"help":"Besides, as the first layer is pressed flat."},
  "print.gap": {"name":"print.gap","label":"Gap between","what":"The gap between copies","unit":"mm","min":0,"max":1000,"step":1,"usual":5},
  "print.holes": {"name":"print.holes","label":"Holes wider","what":"The correction for the nozzle","unit":"mm","min":-0.5,"max":0.5,"step":0.02},
  "print.innerSpeed": {"name":"print.innerSpeed","label":"Inner perimeters","what":"The speed","unit":"mm/s","min":1,"max":1000,"step":5,"usual":80},
  "print.layer": {"name":"print.layer","label":"Layer height","what":"The layer","unit":"mm","min":0.02,"max":2,"step":0.04,"usual":0.2},
  "print.nozzle": {"name":"print.nozzle","label":"Nozzle","what":"The nozzle","unit":"mm","min":0.1,"max":2,"step":0.1,"usual":0.4},
  "print.outerSpeed": {"name":"print.outerSpeed","label":"Outer perimeter","what":"The speed","unit":"mm/s","min":1,"max":1000,"step":5,"usual":60},
  "print.outline": {"name":"print.outline","label":"Outlines inward","what":"The correction for the nozzle","unit":"mm","min":-0.5,"max":0.5,"step":0.02,"help":"By how much outlines are drawn in, as melt spreads."},
  "print.overlap": {"name":"print.overlap","label":"Infill overlap","what":"The overlap of infill","min":0,"max":0.5,"step":0.05,"usual":0.1,"scale":100,"shown":"%","help":"How far infill reaches into walls, as a share of a line."},
  "print.perimeters": {"name":"print.perimeters","label":"Perimeters","what":"The number of perimeters","min":1,"max":20,"step":1,"usual":2,"whole":true},
  "print.price": {"name":"print.price","label":"Price of a kg","what":"The price","min":0,"max":100000,"step":1,"usual":25},
  "print.roll": {"name":"print.roll","label":"Rotation in its plane","what":"The rotation in its plane","unit":"°","min":-3600,"max":3600,"step":5,"help":"Before it tilts."},
  "print.tilt": {"name":"print.tilt","label":"Tilt","what":"The tilt","unit":"°","min":-180,"max":180,"step":5,"help":"How far it leans back from how it lies."},
  "print.travelSpeed": {"name":"print.travelSpeed","label":"Travel","what":"The speed","unit":"mm/s","min":1,"max":1000,"step":5,"usual":150},
  "print.turn": {"name":"print.turn","label":"Rotation","what":"The rotation","unit":"°","min":-3600,"max":3600,"step":5,"help":"On the bed."},
  "relief": {"name":"relief","label":"Relief height","what":"The height of the relief","unit":"mm","min":0.01,"max":100000,"step":0.5,"low":0.01,"high":10,"flag":"relief","help":"Parts step up as they lie on each other; this is the height of the highest."},
  "reliefStep": {"name":"reliefStep","label":"Relief step","what":"The step of the relief","unit":"mm","min":-1000,"max":1000,"step":0.1,"high":3,"flag":"relief-step","help":"By how much each level is higher than the one below."},
  "rough": {"name":"rough","label":"Roughness","what":"The roughness","min":0,"max":1,"step":0.05,"usual":0.45,"high":1,"scale":100,"shown":"%","help":"0 is a mirror, 100 % matt."},
  "saved": {"name":"saved","label":"","what":"The number of materials or cameras saved by name","min":0,"max":100},
  "segments": {"name":"segments","label":"Segments","what":"The number of segments","min":1,"max":32,"step":1,"usual":4,"whole":true,"low":1,"high":12,"flag":"segments","help":"Facets across each curve of the profile."},
  "series.width": {"name":"series.width","label":"Width of each","what":"The width of each","unit":"mm","min":0.1,"max":100000,"step":1,"usual":100},
  "shade": {"name":"shade","label":"Difference","what":"The distance between colours","min":0,"max":100,"step":0.5,"usual":5,"low":0.5,"high":40,"flag":"colours-apart","help":"Gathers shades until those left differ by this; black and white differ by 100."},
  "share": {"name":"share","label":"","what":"The share","min":0,"max":1,"step":0.05},
  "sheet.x": {"name":"sheet.x","label":"X","what":"The place of the sheet","unit":"mm","min":-100000,"max":100000,"step":0.5,"help":"From the middle of the first sheet, to the right."},
  "sheet.y": {"name":"sheet.y","label":"Y","what":"The place of the sheet","unit":"mm","min":-100000,"max":100000,"step":0.5,"help":"From the middle of the first sheet, up."},
  "sheets": {"name":"sheets","label":"","what":"The number of sheets","min":1,"max":40},
  "shutter": {"name":"shutter","label":"Motion blur","what":"The shutter","min":0,"max":1,"step":0.1,"high":1,"scale":100,"shown":"%","zero":"none","flag":"shutter","help":"How much of a frame the shutter is open."},
  "shutter.angle": {"name":"shutter.angle","label":"Shutter angle","what":"The shutter","min":0,"max":1,"step":0.025,"scale":360,"shown":"°","zero":"none"},
  "simplify": {"name":"simplify","label":"Simplify within","what":"The tolerance of simplifying","unit":"mm","min":0,"max":10000,"step":0.01,"zero":"off","flag":"simplify","help":"How far surfaces may move for fewer triangles."},
  "sky.strength": {"name":"sky.strength","label":"Strength","what":"The strength of the surroundings","unit":"stops","min":-24,"max":24,"step":0.25,"low":-6,"high":6},
  "sky.turn": {"name":"sky.turn","label":"Rotation","what":"The rotation of the surroundings","unit":"°","min":-3600,"max":3600,"step":5,"low":-180,"high":180},
  "spacing": {"name":"spacing","label":"Spacing","what":"The spacing of points","unit":"mm","min":0,"max":10000,"step":0.5,"flag":"spacing","help":"Of points inside of flat sides."},
  "spread": {"name":"spread","label":"Spread","what":"The step of the spread","unit":"mm","min":-1000,"max":1000,"step":0.5,"high":10,"flag":"spread","help":"Each part starts so much farther in front than the one before."},
  "stretch": {"name":"stretch","label":"","what":"The stretch of the height","min":0.1,"max":10,"step":0.1,"usual":1},
  "swings": {"name":"swings","label":"Swings","what":"The number of swings","min":0.5,"max":20,"step":0.5,"usual":3,"help":"How often it swings until the next key."},
  "tolerance": {"name":"tolerance","label":"Tolerance","what":"The tolerance","unit":"mm","min":0.0005,"max":10,"step":0.01,"usual":0.02,"flag":"tolerance","help":"How far edges may depart from the artwork's curves. Finer means more triangles."},
  "trace.colours": {"name":"trace.colours","label":"Colours","what":"The number of colours","min":0,"max":15,"step":1,"whole":true,"zero":"automatic","help":"How many colours are traced, without the ground."},
  "trace.corner": {"name":"trace.corner","label":"Corner angle","what":"The corner angle","unit":"°","min":0,"max":180,"step":5,"zero":"automatic","help":"Turns sharper than this are corners."},
  "trace.smooth": {"name":"trace.smooth","label":"Smoothing","what":"The smoothing","unit":"px","min":0,"max":20,"step":0.1,"zero":"0.35 px","help":"How far curves may depart from edges."},
  "trace.speckle": {"name":"trace.speckle","label":"Specks up to","what":"The size of specks","unit":"px²","min":0,"max":100000,"step":1,"zero":"4 px²","help":"Smaller areas are left out."},
  "trace.threshold": {"name":"trace.threshold","label":"Threshold","what":"The threshold","min":0,"max":1,"step":0.05,"scale":100,"shown":"%","zero":"automatic","help":"What is darker than this is drawn."},
  "tracks": {"name":"tracks","label":"","what":"The number of tracks","min":0,"max":4000},
  "triangles": {"name":"triangles","label":"Triangles at most","what":"The number of triangles","min":0,"max":100000000,"step":1000,"whole":true,"zero":"any","flag":"triangles","help":"How many triangles the whole piece may have, as far as that goes."},
  "tube": {"name":"tube","label":"Width","what":"The width of the tube","unit":"mm","min":0,"max":100000,"step":0.5,"high":1,"reach":0.1,"zero":"as drawn","flag":"tube-width","help":"How thick tubes are."},
  "wall": {"name":"wall","label":"Wall","what":"The thickness of the wall","unit":"mm","min":0,"max":100000,"step":0.2,"high":1,"reach":0.06,"zero":"solid","flag":"wall","help":"Makes parts hollow, with walls this thick."},
  "width": {"name":"width","label":"Width","what":"The side","unit":"mm","min":0.1,"max":100000,"step":1,"usual":100,"flag":"width","help":"Width of the piece; the height follows."},
};

/**
 * All choices by their names.
 * @type {Record<string, Choice>}
 */
export const choices = {
  "back": {"name":"back","label":"","what":"The back","flag":"back","help":"The bevel behind.","options":[{"name":"flat","label":"flat"},{"name":"bevel","label":"like the front"}]},
  "backdrop": {"name":"backdrop","label":"Backdrop","what":"The backdrop","options":[{"name":"sweep","label":"Sweep","help":"A floor that bends up to a wall."},{"name":"clear","label":"Transparent","help":"Nothing: the picture has an alpha channel."},{"name":"colour","label":"Colour"},{"name":"gradient","label":"Gradient"},{"name":"surroundings","label":"Surroundings"}]},
  "bed": {"name":"bed","label":"Bed","what":"The bed","options":[{"name":"180","label":"180 × 180 × 180 mm"},{"name":"256","label":"256 × 256 × 256 mm"}]},
  "by": {"name":"by","label":"","what":"What is fixed of the size","options":[{"name":"width","label":"width"},{"name":"height","label":"height"},{"name":"distance","label":"distance"}]},
  "caps": {"name":"caps","label":"Caps","what":"The caps","flag":"caps","help":"How flat sides are filled with triangles.","options":[{"name":"","label":"few","flag":"few"},{"name":"even","label":"even","help":"Nearly equilateral triangles."},{"name":"grid","label":"grid","help":"Squares."}]},
  "clip": {"name":"clip","label":"Test clip as","what":"The format of test clips","options":[{"name":"webm","label":"WebM"},{"name":"mp4","label":"MP4"}]},
  "contrast": {"name":"contrast","label":"Contrast","what":"The contrast","options":[{"name":"soft","label":"Soft"},{"name":"strong","label":"Strong"},{"name":"flat","label":"Flat"}]},
  "corners": {"name":"corners","label":"Inner corners","what":"The inner corners","options":[{"name":"round","label":"round"},{"name":"mitred","label":"mitred"}]},
  "direction": {"name":"direction","label":"Direction","what":"The direction","flag":"direction","help":"Where parts lie from the plane.","options":[{"name":"","label":"forward","flag":"forward"},{"name":"back","label":"back"},{"name":"both","label":"both"}]},
  "ease": {"name":"ease","label":"Easing","what":"The easing","help":"How one key leads to the next.","options":[{"name":"both","label":"ease in and out"},{"name":"even","label":"linear"},{"name":"soft in","label":"ease in"},{"name":"soft out","label":"ease out"},{"name":"overshoot","label":"overshoot"},{"name":"bounce","label":"bounce"},{"name":"spring","label":"spring"},{"name":"hold","label":"hold","help":"Stays, then jumps."},{"name":"drawn","label":"curve","help":"A curve of your own."}]},
  "faces": {"name":"faces","label":"Faces","what":"The faces","options":[{"name":"","label":"all faces"},{"name":"front","label":"fronts"},{"name":"bevel","label":"bevels"},{"name":"side","label":"sides"},{"name":"back","label":"backs"}]},
  "filament": {"name":"filament","label":"Material","what":"The material of a print","options":[{"name":"PLA","label":"PLA"},{"name":"PETG","label":"PETG"},{"name":"ABS","label":"ABS"},{"name":"ASA","label":"ASA"}]},
  "file": {"name":"file","label":"File","what":"The format","options":[{"name":"stl","label":"STL","help":"all parts in one mesh, for printing; no colours"},{"name":"3mf","label":"3MF","help":"parts with names and colours, for printing"},{"name":"gcode","label":"G-code","help":"the print itself, for the bed and nozzle of Print"},{"name":"glb","label":"GLB","help":"materials, lights, camera and motion, for rendering"},{"name":"usdz","label":"USDZ","help":"the same by another open standard, one file"},{"name":"usda","label":"USDA","help":"the same as text"},{"name":"obj","label":"OBJ","help":"objects and face groups; comes with its MTL"},{"name":"ply","label":"PLY","help":"one mesh with the colours of its parts"},{"name":"svg","label":"SVG","help":"the cleaned outlines of the parts, in mm"},{"name":"dxf","label":"DXF","help":"the same for cutters: a layer a part and depth"},{"name":"zip","label":"All parts","help":"each as a file of its own, with a sheet of contents"}]},
  "fineness": {"name":"fineness","label":"Fineness","what":"The fineness","flag":"fineness","help":"How closely curves are followed, or a length.","options":[{"name":"draft","label":"draft","help":"Within 0.1 mm."},{"name":"good","label":"good","help":"Within 0.02 mm."},{"name":"fine","label":"fine","help":"Within 0.005 mm."}]},
  "format": {"name":"format","label":"Format","what":"The format","flag":"format","help":"The format of what leaves.","options":[{"name":"stl","label":"STL"},{"name":"3mf","label":"3MF"},{"name":"obj","label":"OBJ"},{"name":"glb","label":"GLB"},{"name":"ply","label":"PLY"},{"name":"usda","label":"USDA"},{"name":"usdz","label":"USDZ"}]},
  "fused": {"name":"fused","label":"Bodies","what":"The bodies","help":"Whether parts leave as one body.","options":[{"name":"","label":"automatic","help":"One body in files for printing, unless there is a clearance."},{"name":"together","label":"one"},{"name":"apart","label":"apart"}]},
  "gathering": {"name":"gathering","label":"Colours","what":"The gathering of colours","options":[{"name":"","label":"all"},{"name":"count","label":"a number"},{"name":"distance","label":"by difference"},{"name":"given","label":"a palette"}]},
  "grouping": {"name":"grouping","label":"Parts by","what":"What parts are made by","flag":"parts","help":"What becomes one part.","options":[{"name":"","label":"colour","flag":"colour"},{"name":"layer","label":"layer"},{"name":"group","label":"group"},{"name":"shape","label":"shape"},{"name":"outline","label":"outline","help":"Each connected area; the dot of a letter stays with it."}]},
  "infill": {"name":"infill","label":"Infill","what":"The infill","options":[{"name":"lines","label":"lines"},{"name":"grid","label":"grid"},{"name":"concentric","label":"concentric"},{"name":"none","label":"none"}]},
  "lamp": {"name":"lamp","label":"Lamp","what":"A lamp","options":[{"name":"panel","label":"Panel"},{"name":"spot","label":"Spot"},{"name":"sun","label":"Sun"}]},
  "lying": {"name":"lying","label":"Orientation","what":"The orientation","help":"How the piece lies in the files that leave.","options":[{"name":"","label":"face up","help":"On its back."},{"name":"down","label":"face down","help":"The plate's texture becomes the face."},{"name":"upright","label":"upright","help":"On its lower edge."}]},
  "measures": {"name":"measures","label":"","what":"What a change of size does to depths","options":[{"name":"","label":"ask"},{"name":"stay","label":"stay"},{"name":"scale","label":"scale"}]},
  "mend.corners": {"name":"mend.corners","label":"Corners","what":"The corners","options":[{"name":"round","label":"round"},{"name":"mitre","label":"mitred"}]},
  "mend.side": {"name":"mend.side","label":"Ring","what":"The side of the outline","options":[{"name":"inside","label":"inside"},{"name":"middle","label":"middle"},{"name":"outside","label":"outside"}]},
  "move": {"name":"move","label":"Move","what":"A move","flag":"move","help":"A ready move, or the file of a saved one.","options":[{"name":"turntable","label":"Turntable","help":"once around, evenly"},{"name":"rise","label":"Rise","help":"up out of the ground"},{"name":"drop in","label":"Drop in","help":"falls and settles"},{"name":"swing open","label":"Swing open","help":"turns into view, and a little past"},{"name":"unroll from the left","label":"Unroll from the left","help":"each turns down on its left edge"},{"name":"spring out","label":"Spring out","help":"out of nothing, springing"},{"name":"bounce in","label":"Bounce in","help":"falls, and bounces till it lies"},{"name":"write","label":"Write","help":"along its outline, then filled"},{"name":"assemble","label":"Assemble","help":"parts come together from all sides"},{"name":"light sweep","label":"Light sweep","help":"a strip of light runs across"},{"name":"camera round","label":"Camera round","help":"the camera goes from left to right"}]},
  "open": {"name":"open","label":"Open","what":"The open side","flag":"open","help":"Leaves caps out.","options":[{"name":"front","label":"Open in front"},{"name":"back","label":"Open behind"},{"name":"both","label":"both"}]},
  "order": {"name":"order","label":"Order","what":"The order of parts","flag":"order","help":"In which order parts follow each other.","options":[{"name":"together","label":"all at once"},{"name":"in order","label":"as listed"},{"name":"left to right","label":"left to right"},{"name":"right to left","label":"right to left"},{"name":"top down","label":"top to bottom"},{"name":"from the middle","label":"from the middle"},{"name":"from a point","label":"from a point"},{"name":"at random","label":"random"}]},
  "origin": {"name":"origin","label":"Origin","what":"The origin","help":"Where 0, 0, 0 is in the files that leave.","options":[{"name":"","label":"base","help":"The middle of what it lies on."},{"name":"centre","label":"centre","help":"The middle of the body."},{"name":"corner","label":"corner","help":"The lowest corner."}]},
  "outlines": {"name":"outlines","label":"Outlines","what":"The place of outlines","flag":"outlines","help":"Where dark outlines stand in a relief.","options":[{"name":"","label":"as others","flag":"as-others"},{"name":"highest","label":"highest"},{"name":"groove","label":"groove","help":"Below all others."}]},
  "overlap": {"name":"overlap","label":"Overlaps","what":"The overlap","flag":"overlap","help":"What becomes of shapes that overlap.","options":[{"name":"cut","label":"cut","help":"A shape on top is cut out of those below, so that parts fit like inlays."},{"name":"keep","label":"keep","help":"Every part stays whole."}]},
  "partsFormat": {"name":"partsFormat","label":"All parts as","what":"The format of the parts","options":[{"name":"stl","label":"STL"},{"name":"3mf","label":"3MF"},{"name":"ply","label":"PLY"},{"name":"glb","label":"GLB"}]},
  "pictureFormat": {"name":"pictureFormat","label":"Format","what":"The format of pictures","flag":"format","help":"The format of pictures.","options":[{"name":"png","label":"PNG, 16 bit"},{"name":"png8","label":"PNG, 8 bit"},{"name":"exr","label":"OpenEXR, linear"},{"name":"hdr","label":"Radiance HDR, linear"}]},
  "pivot": {"name":"pivot","label":"Pivot","what":"The pivot","flag":"pivot","help":"What turns and sizes go about.","options":[{"name":"middle","label":"middle"},{"name":"base line","label":"baseline"},{"name":"top","label":"top"},{"name":"left","label":"left"},{"name":"right","label":"right"},{"name":"lower left","label":"lower left"},{"name":"lower right","label":"lower right"},{"name":"upper left","label":"upper left"},{"name":"upper right","label":"upper right"},{"name":"point","label":"a point …"}]},
  "profile": {"name":"profile","label":"Profile","what":"The profile","flag":"profile","help":"The form of bevels.","options":[{"name":"chamfer","label":"chamfer","help":"Straight."},{"name":"round","label":"round","help":"A quarter of a circle, upright at the rim."},{"name":"cove","label":"cove","help":"A hollow quarter of a circle."},{"name":"ogee","label":"ogee","help":"A cove that turns into a round half way."},{"name":"keel","label":"keel","help":"A round that turns into a cove half way, as an ogee upside down."},{"name":"bead","label":"bead","help":"A rounded border, set off from the face by a groove."},{"name":"step","label":"step","help":"Stairs, one a segment."},{"name":"pillow","label":"pillow","help":"A round that runs all the way to the ridge."},{"name":"dome","label":"dome","help":"A round that runs all the way, without an edge on the ridge."},{"name":"custom","label":"own","help":"Draw a profile of your own."}]},
  "purpose": {"name":"purpose","label":"What matters","what":"The purpose","options":[{"name":"","label":"picture and print"},{"name":"picture","label":"the picture"},{"name":"print","label":"the print"}]},
  "quality": {"name":"quality","label":"Quality","what":"The quality","flag":"quality","help":"How much noise may be left.","options":[{"name":"draft","label":"Draft"},{"name":"good","label":"Good"},{"name":"final","label":"Final"}]},
  "ratio": {"name":"ratio","label":"Ratio","what":"The ratio","options":[{"name":"locked","label":"locked","help":"Width and height change together."},{"name":"free","label":"free","help":"Each by itself."}]},
  "reach": {"name":"reach","label":"Bevels","what":"The direction of bevels","options":[{"name":"inward","label":"inward","help":"The outline stays, the face becomes smaller."},{"name":"outward","label":"outward","help":"The face keeps its size, walls stand outside of it."}]},
  "role": {"name":"role","label":"Role","what":"The role","help":"What a part is to the others.","options":[{"name":"","label":"a body"},{"name":"recess","label":"a recess in","help":"Cut into another part."},{"name":"raised","label":"raised on","help":"One body with another part, higher than its face."},{"name":"resting","label":"resting on","help":"A body of its own that stands on another part."},{"name":"tube","label":"a tube","help":"Follows the lines of its strokes."},{"name":"backing","label":"a backing plate","help":"Lies behind the others."}]},
  "seam": {"name":"seam","label":"Seam","what":"The seam","options":[{"name":"corner","label":"in inner corners"},{"name":"back","label":"at the back"}]},
  "setting": {"name":"setting","label":"Preset","what":"The setting of lamps","options":[{"name":"three lamps","label":"Three lamps","help":"Key, fill and rim light."},{"name":"rims alone","label":"Rims alone"},{"name":"from above","label":"From above"},{"name":"low evening","label":"Low evening"},{"name":"none","label":"None"}]},
  "shading": {"name":"shading","label":"Shading","what":"The shading","options":[{"name":"clay","label":"Clay"},{"name":"colours","label":"Colours"},{"name":"wire","label":"Wire"},{"name":"zebra","label":"Zebra","help":"Stripes, to judge how bevels take light."}]},
  "skirt": {"name":"skirt","label":"Adhesion","what":"The skirt","options":[{"name":"skirt","label":"skirt","help":"A line around it, apart from it."},{"name":"brim","label":"brim","help":"Lines against it, which hold it down."},{"name":"none","label":"none"}]},
  "stepping": {"name":"stepping","label":"Relief","what":"The relief","options":[{"name":"","label":"off"},{"name":"total","label":"to a height"},{"name":"step","label":"by a step"}]},
  "surroundings": {"name":"surroundings","label":"Surroundings","what":"The surroundings","options":[{"name":"softbox studio","label":"Softbox studio"},{"name":"window room","label":"Window room"},{"name":"overcast quay","label":"Overcast quay"},{"name":"dusk","label":"Dusk"},{"name":"none","label":"None"}]},
  "trace.by": {"name":"trace.by","label":"Trace by","what":"What a bitmap is traced by","flag":"trace-by","help":"How bitmaps become outlines.","options":[{"name":"","label":"automatic","help":"By what the picture looks like."},{"name":"light","label":"dark and light"},{"name":"colours","label":"colours"}]},
  "trouble": {"name":"trouble","label":"Trouble","what":"The kind of trouble","options":[{"name":"too large","label":"too large","unit":"mm"},{"name":"loose","label":"may let go","unit":"mm²"},{"name":"falls over","label":"falls over","unit":"mm"},{"name":"overhang","label":"hangs over","unit":"mm²"},{"name":"island","label":"begins in the air","unit":"mm²"},{"name":"thin wall","label":"too thin","unit":"mm"},{"name":"narrow gap","label":"too narrow","unit":"mm"},{"name":"small hole","label":"hole closes","unit":"mm"},{"name":"curls","label":"curls up","unit":"°"}]},
  "tubeEnds": {"name":"tubeEnds","label":"Ends","what":"The ends of a tube","options":[{"name":"","label":"as drawn"},{"name":"round","label":"round"},{"name":"flat","label":"flat"}]},
  "tubeSection": {"name":"tubeSection","label":"Section","what":"The section of a tube","flag":"tube-section","help":"What tubes look like cut across.","options":[{"name":"round","label":"round"},{"name":"own","label":"depth and edges","help":"With the part's own depth and bevels."}]},
  "unit": {"name":"unit","label":"Unit","what":"What moves as one","flag":"unit","help":"What moves as one.","options":[{"name":"part","label":"each part"},{"name":"word","label":"words"},{"name":"line","label":"lines"},{"name":"layer","label":"layers"},{"name":"group","label":"all as one"}]},
  "up": {"name":"up","label":"Up axis","what":"The up axis","help":"Which axis points up in the files that leave; in GLB it is always y.","options":[{"name":"","label":"z"},{"name":"y","label":"y"}]},
  "view": {"name":"view","label":"Views","what":"The view","options":[{"name":"quarter","label":"Quarter"},{"name":"front","label":"Front"},{"name":"edge","label":"Edge"},{"name":"back","label":"Back"}]},
};

/**
 * The forms of bevels.
 * @type {Profile[]}
 */
export const profiles = [
  {"name":"chamfer","label":"chamfer","help":"Straight.","lines":[{"form":"line","t":1,"f":1}]},
  {"name":"round","label":"round","help":"A quarter of a circle, upright at the rim.","lines":[{"form":"round","t":1,"f":1}]},
  {"name":"cove","label":"cove","help":"A hollow quarter of a circle.","lines":[{"form":"cove","t":1,"f":1}]},
  {"name":"ogee","label":"ogee","help":"A cove that turns into a round half way.","lines":[{"form":"cove","t":0.5,"f":0.5,"half":true},{"form":"round","t":1,"f":1,"half":true}]},
  {"name":"keel","label":"keel","help":"A round that turns into a cove half way, as an ogee upside down.","lines":[{"form":"round","t":0.5,"f":0.5,"half":true},{"form":"cove","t":1,"f":1,"half":true}]},
  {"name":"bead","label":"bead","help":"A rounded border, set off from the face by a groove.","lines":[{"form":"round","t":0.5,"f":1},{"form":"cove","t":1,"f":0.5},{"form":"line","t":1,"f":1}]},
  {"name":"step","label":"step","help":"Stairs, one a segment.","lines":[{"form":"stairs","t":1,"f":1}]},
  {"name":"pillow","label":"pillow","help":"A round that runs all the way to the ridge.","full":true,"lines":[{"form":"round","t":1,"f":1}]},
  {"name":"dome","label":"dome","help":"A round that runs all the way, without an edge on the ridge.","full":true,"lines":[{"form":"round","t":1,"f":1}]},
  {"name":"custom","label":"own","help":"Draw a profile of your own.","drawn":true},
];

/**
 * What can change over time.
 * @type {Track[]}
 */
export const tracks = [
  {"name":"right","label":"X","unit":"mm","rest":0,"of":["part","lamp"]},
  {"name":"up","label":"Y","unit":"mm","rest":0,"of":["part","lamp"]},
  {"name":"ahead","label":"forward","unit":"mm","rest":0,"of":["part","lamp"]},
  {"name":"turn","label":"rotation","unit":"°","rest":0,"of":["part","camera"]},
  {"name":"tilt","label":"tilt forward","unit":"°","rest":0,"of":["part"]},
  {"name":"lean","label":"roll","unit":"°","rest":0,"of":["part"]},
  {"name":"swing","label":"hinge left","unit":"°","rest":0,"of":["part"]},
  {"name":"pivot right","label":"pivot X","unit":"mm","rest":0,"of":["part"]},
  {"name":"pivot up","label":"pivot Y","unit":"mm","rest":0,"of":["part"]},
  {"name":"size","label":"scale","unit":"×","rest":1,"of":["part"]},
  {"name":"shown","label":"visible (1) or not (0)","unit":"","rest":1,"of":["part"]},
  {"name":"colour","label":"colour","unit":"","rest":0,"of":["part"]},
  {"name":"glow","label":"glow","unit":"×","rest":0,"of":["part"]},
  {"name":"depth","label":"depth","unit":"×","rest":1,"of":["part"]},
  {"name":"bevel","label":"bevel height","unit":"×","rest":1,"of":["part"]},
  {"name":"written","label":"written","unit":"of it","rest":1,"of":["part"]},
  {"name":"becoming","label":"becoming","unit":"of it","rest":0,"of":["part"]},
  {"name":"along","label":"along its path","unit":"of it","rest":0,"of":["part","camera","lamp"]},
  {"name":"height","label":"elevation","unit":"°","rest":0,"of":["camera"]},
  {"name":"distance","label":"farther away","unit":"mm","rest":0,"of":["camera"]},
  {"name":"focal","label":"focal length","unit":"mm","rest":0,"of":["camera"]},
  {"name":"level","label":"roll","unit":"°","rest":0,"of":["camera"]},
  {"name":"exposure","label":"exposure","unit":"stops","rest":0,"of":["scene"]},
  {"name":"around","label":"surroundings rotation","unit":"°","rest":0,"of":["scene"]},
  {"name":"strength","label":"strength","unit":"stops","rest":0,"of":["lamp"]},
  {"name":"aim right","label":"aim X","unit":"mm","rest":0,"of":["lamp"]},
  {"name":"aim up","label":"aim Y","unit":"mm","rest":0,"of":["lamp"]},
  {"name":"aim ahead","label":"aim forward","unit":"mm","rest":0,"of":["lamp"]},
];

/**
 * The shapes that Mend adds.
 * @type {Addition[]}
 */
export const additions = [
  {"name":"plate","label":"Plate","figures":[{"name":"w","label":"Width","usual":60},{"name":"h","label":"Height","usual":20},{"name":"c","label":"Corners","usual":3},{"name":"f","label":"Foot","usual":0}],"ways":[{"name":"round","label":"round corners"},{"name":"chamfer","label":"chamfered corners"},{"name":"square","label":"square corners"},{"name":"stake","label":"pointed foot"}],"places":1,"hint":"Click where it belongs, drag its middle, or write the figures. Enter adds it."},
  {"name":"disc","label":"Disc or ring","figures":[{"name":"d","label":"Diameter","usual":20},{"name":"o","label":"Opening","usual":0}],"places":1,"hint":"Click where it belongs, drag its middle, or write the figures. Enter adds it."},
  {"name":"border","label":"Backing border","figures":[{"name":"n","label":"Beyond the outline","usual":3}],"ways":[{"name":"","label":"holes filled"},{"name":"holes","label":"holes kept"}],"places":0,"hint":"It goes by the outline of everything."},
  {"name":"strip","label":"Base strip","figures":[{"name":"h","label":"Height","usual":4},{"name":"m","label":"Longer by","usual":2},{"name":"i","label":"Up into the artwork","usual":1}],"places":0,"hint":"It goes by the outline of everything."},
  {"name":"eyelet","label":"Eyelet","figures":[{"name":"d","label":"Diameter","usual":9},{"name":"o","label":"Opening","usual":4}],"places":1,"hint":"Click where it belongs, drag its middle, or write the figures. Enter adds it."},
  {"name":"punch","label":"Hanging hole","figures":[{"name":"d","label":"Diameter","usual":4}],"places":1,"hint":"Click where it belongs, drag its middle, or write the figures. Enter adds it."},
  {"name":"bridge","label":"Bridge","figures":[{"name":"w","label":"Width","usual":1.2}],"places":2,"hint":"Click where it begins and where it ends, or write the figures. Enter adds it."},
  {"name":"lettering","label":"Lettering","figures":[{"name":"h","label":"Height of capitals","usual":8}],"places":1,"writes":true,"hint":"Click where it belongs, drag its middle, or write the figures. Enter adds it."},
];

/**
 * The words that are our own.
 * @type {Word[]}
 */
export const words = [
  {"name":"Piece","means":"One project: its artwork, all that was decided about it, and its history."},
  {"name":"Sheet","means":"One file of artwork in a piece. Several sheets lie on top of each other."},
  {"name":"Part","means":"One solid, made of one shape or of several."},
  {"name":"Recipe","means":"All decisions of a piece, from cleaning to light. A kept recipe can be used on other artwork."},
  {"name":"Version","means":"A state of a piece under a name, to compare with and to go back to."},
  {"name":"Intake","means":"The first step: what is in the file, and which of it is wanted."},
  {"name":"Mend","means":"The second step: the drawing is cleaned, by itself or by hand."},
  {"name":"Finding","means":"Something about the drawing or the solid that will hurt later, with what to do about it."},
  {"name":"Raise","means":"The fourth step: flat shapes become solids by depth, bevels, recesses and details."},
  {"name":"Section","means":"The drawing of a part that is cut through, to see and set its depth and bevels."},
  {"name":"Ridge","means":"The line in the middle of a stroke, where bevels from both sides meet."},
  {"name":"Relief","means":"Parts step up by themselves, each as it lies on the others."},
  {"name":"Stand","means":"The round table with rings in millimetres that a piece rests on."},
  {"name":"Show","means":"The fifth step: materials, light, camera and motion, as pictures and clips."},
  {"name":"Sweep","means":"A backdrop whose floor bends up to a wall, as in a photo studio."},
  {"name":"Shine and shade","means":"Light that is painted on a flat drawing. It can be left out, so that real light does it."},
  {"name":"Release","means":"The last step: checks, files for other programs, and the print."},
  {"name":"Rehearsal","means":"The print, walked through line by line before a printer is asked."},
];

/**
 * Frames a second; the first is the usual one.
 * @type {number[]}
 */
export const rates = [
  25,
  24,
  30,
  50,
  60,
];

/**
 * Tolerances by their names, mm.
 * @type {{ name: string, mm: number }[]}
 */
export const finenesses = [
  {"name":"draft","mm":0.1},
  {"name":"good","mm":0.02},
  {"name":"fine","mm":0.005},
];

/**
 * The units of lengths that people may write, in mm.
 * @type {Record<string, number>}
 */
export const units = {
  "\"": 25.4,
  "cm": 10,
  "ft": 304.8,
  "in": 25.4,
  "m": 1000,
  "mm": 1,
  "pt": 0.3527777777777778,
  "px": 0.26458333333333334,
  "um": 0.001,
  "µm": 0.001,
};

/**
 * The beds of printers, mm.
 * @type {Record<string, number[]>}
 */
export const beds = {
  "180": [180,180,180],
  "256": [256,256,256],
};

/**
 * The kinds of lines of a print, by number.
 * @type {string[]}
 */
export const lineKinds = [
  "skirt",
  "brim",
  "inner perimeter",
  "outer perimeter",
  "thin stroke",
  "solid",
  "infill",
  "bridge",
];

