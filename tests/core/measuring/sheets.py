"""Forty-eight made-up data sheets in unlike styles, each with what it truly says. Styles are filled with the figures
of two made-up things each, so that no figure is right by luck."""

from __future__ import annotations

A = {
    "name": "Keg 2",
    "wh": 2048,
    "v": 51.2,
    "ah": 40,
    "w": 2400,
    "surge": 4800,
    "s": 5,
    "ms": 12,
    "sol_v": (12, 60),
    "sol_a": 15,
    "sol_w": 500,
    "chg": 1200,
    "kg": 23.6,
    "cyc": 3500,
    "yr": 5,
    "idle": 14,
    "out_a": 20,
    "big_a": 30,
    "n": 4,
    "dis": (-10, 40),
    "cold": (0, 40),
    "price": 1299,
}
B = {
    "name": "Vat Max",
    "wh": 5120,
    "v": 48.0,
    "ah": 106.7,
    "w": 3600,
    "surge": 7200,
    "s": 10,
    "ms": 20,
    "sol_v": (60, 150),
    "sol_a": 18,
    "sol_w": 1600,
    "chg": 1800,
    "kg": 51,
    "cyc": 6000,
    "yr": 10,
    "idle": 32,
    "out_a": 20,
    "big_a": 30,
    "n": 6,
    "dis": (-20, 45),
    "cold": (5, 45),
    "price": 2890,
}


def k(x: float) -> str:
    return f"{x:,}"


def f(c: float) -> int:
    return round(c * 1.8 + 32)


def stations(d: dict) -> list[tuple[str, dict]]:
    lo, hi = d["sol_v"]
    core = {"nominal_wh": d["wh"], "continuous_w": d["w"], "surge_va": d["surge"]}
    solar = {"solar_min_v": lo, "solar_max_v": hi, "solar_max_a": d["sol_a"], "solar_max_w": d["sol_w"]}
    temp = {
        "discharge_min_c": d["dis"][0],
        "discharge_max_c": d["dis"][1],
        "charge_min_c": d["cold"][0],
        "charge_max_c": d["cold"][1],
    }
    life = {"cycle_life": d["cyc"], "warranty_years": d["yr"], "weight_kg": d["kg"]}
    return [
        (
            f"""{d["name"]}
Capacity: {d["wh"]}Wh
AC Output: {d["w"]}W continuous, {d["surge"]}W surge for {d["s"]} s
Solar Input: {lo}-{hi}V, {d["sol_a"]}A, {d["sol_w"]}W max
AC Charging: {d["chg"]}W
UPS switchover: {d["ms"]} ms
Weight: {d["kg"]} kg
Cycle life: {d["cyc"]} cycles
Warranty: {d["yr"]} years""",
            core | solar | life | {"charge_w": d["chg"], "transfer_ms": d["ms"], "surge_s": d["s"]},
        ),
        (
            f"""Model | {d["name"]}
Battery energy | {k(d["wh"])} Wh
Cell chemistry | LiFePO4
Rated output power | {k(d["w"])} W
Peak power | {k(d["surge"])} W
Maximum solar power | {k(d["sol_w"])} W
PV voltage range | {lo} V – {hi} V
Max. PV current | {d["sol_a"]} A
Net weight | {d["kg"]} kg
Discharge temperature | {d["dis"][0]} to {d["dis"][1]} °C
Charge temperature | {d["cold"][0]} to {d["cold"][1]} °C""",
            core | solar | temp | {"weight_kg": d["kg"], "chemistry": "LFP", "name": d["name"]},
        ),
        (
            f"""Product: {d["name"]}
• Lithium iron phosphate, {d["v"]} V {d["ah"]} Ah
• Inverter: {d["w"] / 1000} kW running / {d["surge"] / 1000} kW starting
• {d["n"]} AC outlets, {d["out_a"]} A each
• One {d["big_a"]} A locking outlet for an inlet
• Standby draw {d["idle"]} W
• {round(d["kg"] / 0.45359, 1)} lbs""",
            {
                "continuous_w": d["w"],
                "surge_va": d["surge"],
                "outlets": d["n"],
                "outlet_a": d["out_a"],
                "inlet_outlet_a": d["big_a"],
                "idle_w": d["idle"],
                "weight_kg": d["kg"],
                "nominal_wh": round(d["v"] * d["ah"], 1),
                "battery_v": d["v"],
                "chemistry": "LFP",
                "name": d["name"],
            },
        ),
        (
            f"""TECHNICAL SPECIFICATIONS
Name: {d["name"]}
GENERAL
  Capacity .......... {k(d["wh"])}Wh
  Net Weight ........ {d["kg"]}kg
OUTPUT
  AC outlets ........ {d["n"]} x {d["out_a"]}A
  AC output ......... 120V~ 60Hz, {d["w"]}W (surge {d["surge"]}W)
INPUT
  AC input .......... {d["chg"]}W max.
  Solar input ....... {lo}V to {hi}V DC, max {d["sol_a"]}A, max {d["sol_w"]}W
ENVIRONMENT
  Operating temperature ... {f(d["dis"][0])}°F to {f(d["dis"][1])}°F
  Charging temperature .... {f(d["cold"][0])}°F to {f(d["cold"][1])}°F""",
            core
            | solar
            | temp
            | {
                "weight_kg": d["kg"],
                "charge_w": d["chg"],
                "volts": "120",
                "outlets": d["n"],
                "outlet_a": d["out_a"],
                "name": d["name"],
            },
        ),
        (
            f"""{d["name"]} – power for the whole evening!
Its {d["wh"] / 1000} kWh battery¹ runs {d["w"]} W of appliances continuously, with {d["surge"]} W for motors that start.
Expandable to {k(5 * d["wh"])} Wh with four extra batteries (sold separately).
Takes over in {d["ms"]} ms. {d["yr"]}-year warranty².
¹ at 25 °C. ² after registration.""",
            core | {"transfer_ms": d["ms"], "warranty_years": d["yr"]},
        ),
        (
            f"""name\t{d["name"]}
battery capacity\t{d["wh"]} Wh
continuous output\t{d["w"]} W
surge\t{d["surge"]} W / {d["s"]} s
ac charging power\t{d["chg"]} W
solar open circuit voltage max\t{hi} V
solar power\t{d["sol_w"]} W
idle consumption\t{d["idle"]} W
price\t${k(d["price"])}""",
            core
            | {
                "surge_s": d["s"],
                "charge_w": d["chg"],
                "solar_max_v": hi,
                "solar_max_w": d["sol_w"],
                "idle_w": d["idle"],
                "price": str(float(d["price"])),
                "currency": "USD",
                "name": d["name"],
            },
        ),
        (
            f"""{d["name"]}: Nennkapazität capacity {str(d["wh"] / 1000).replace(".", ",")} kWh
Output power {d["w"]} VA, 230 V; peak {d["surge"]} VA
Weight {str(d["kg"]).replace(".", ",")} kg
PV input {lo} … {hi} V, {d["sol_a"]} A, {str(d["sol_w"]).replace(".", ",")} W
Price {d["price"]} EUR""",
            {
                "nominal_wh": d["wh"],
                "rated_va": d["w"],
                "surge_va": d["surge"],
                "weight_kg": d["kg"],
                "volts": "230",
                "price": str(float(d["price"])),
                "currency": "EUR",
            }
            | solar,
        ),
        (
            f"""Model: {d["name"]}
Stored energy: {k(d["wh"])} Wh (LFP, {k(d["cyc"])} cycles to 80%)
Split-phase output 120/240 V, {k(d["w"])} W continuous
Starts motors up to {k(d["surge"])} W surge
Solar: 2 x {d["sol_w"]} W, {lo}–{hi} V, {d["sol_a"]} A each
AC input {d["big_a"]} A pass-through
Up to 3 expansion modules
Transfer time < {d["ms"]} ms""",
            core
            | {
                "cycle_life": d["cyc"],
                "volts": "120/240",
                "solar_max_w": d["sol_w"],
                "solar_inputs": 2,
                "solar_min_v": lo,
                "solar_max_v": hi,
                "chemistry": "LFP",
                "name": d["name"],
                "solar_max_a": d["sol_a"],
                "input_a": d["big_a"],
                "max_modules": 3,
                "transfer_ms": d["ms"],
            },
        ),
        (
            f"""Spec sheet, {d["name"]}
Energy: {d["wh"]} watt-hours i.e. {d["wh"]} Wh
Continuous power: {d["w"]} watts
Surge power: {d["surge"]} watts ({d["s"]} seconds)
Weighs {d["kg"]} kg and is guaranteed for {d["yr"]} years
USB-C: 100 W; car port: 12 V 10 A
Noise: 30 dB idle, 52 dB under full load""",
            core
            | {
                "surge_s": d["s"],
                "weight_kg": d["kg"],
                "warranty_years": d["yr"],
                "noise_idle_db": 30,
                "noise_load_db": 52,
            },
        ),
        (
            f"""{d["name"]} shop table
Capacity: {k(d["wh"])}Wh | AC: {k(d["w"])}W ({k(d["surge"])}W peak) | Recharge: {k(d["chg"])}W from the wall | Sun: {k(d["sol_w"])}W
{d["n"]} outlets | {d["kg"]}kg | {k(d["cyc"])} cycles | {d["yr"]} yr warranty""",
            core
            | {
                "charge_w": d["chg"],
                "solar_max_w": d["sol_w"],
                "outlets": d["n"],
                "cycle_life": d["cyc"],
                "warranty_years": d["yr"],
                "weight_kg": d["kg"],
            },
        ),
        (
            f"""Page 42. {d["name"]}, technical data
Nominal energy          {d["wh"]} Wh
Nominal voltage of the battery   {d["v"]} V
Rated power             {d["w"]} W
Peak power              {d["surge"]} W
Own draw, inverter on   {d["idle"]} W
Changeover time         {d["ms"]} ms
Working temperature, discharge   {d["dis"][0]} … {d["dis"][1]} °C
Working temperature, charge      {d["cold"][0]} … {d["cold"][1]} °C""",
            core | temp | {"battery_v": d["v"], "idle_w": d["idle"], "transfer_ms": d["ms"]},
        ),
        (
            f"""{d["name"]}
It stores {k(d["wh"])} Wh; it gives {k(d["w"])} W all the time; for a start it gives a surge of {k(d["surge"])} W; the sun may bring \
{k(d["sol_w"])} W of solar; it weighs {d["kg"]} kg; it is made for {k(d["cyc"])} cycles.""",
            core | {"solar_max_w": d["sol_w"], "weight_kg": d["kg"], "cycle_life": d["cyc"]},
        ),
    ]


def panels(w: int, voc: float, vmp: float, isc: float, imp: float, kg: float, beta: float) -> list[tuple[str, dict]]:
    truth = {"w": w, "voc_v": voc, "vmp_v": vmp, "isc_a": isc, "imp_a": imp}
    return [
        (
            f"Panel S{w}\nRated power (Pmax): {w} W\nOpen circuit voltage (Voc): {voc} V\nMax power voltage "
            f"(Vmp): {vmp} V\n"
            f"Short circuit current (Isc): {isc} A\nMax power current (Imp): {imp} A\nWeight: {kg} kg",
            truth | {"weight_kg": kg},
        ),
        (
            f"Pmax\t{w}W\nVoc\t{voc}V\nIsc\t{isc}A\nVmp\t{vmp}V\nImp\t{imp}A\nMax. system voltage\t1000 V\n"
            f"Temp. coefficient of Voc\t{beta}%/°C",
            truth | {"max_v": 1000, "voc_percent_c": beta},
        ),
        (
            f"Folding panel, {w} Wp peak. Voc {voc} V; Isc {isc} A; Vmp {vmp} V; Imp {imp} A; {kg} kg",
            truth | {"portable": True, "weight_kg": kg},
        ),
        (
            f"Maximum power {w} W | Operating voltage {vmp} V | Operating current {imp} A | Open-circuit "
            f"voltage {voc} V | "
            f"Short-circuit current {isc} A | NOCT 45 °C",
            truth | {"noct_c": 45},
        ),
    ]


def modules(wh: int, v: float, ah: int, kg: float) -> list[tuple[str, dict]]:
    return [
        (
            f"Extra battery\nCapacity: {wh:,} Wh\nNominal voltage: {v} V\nWeight: {kg} kg\nLiFePO4",
            {"wh": wh, "battery_v": v, "weight_kg": kg, "chemistry": "LFP"},
        ),
        (
            f"Bank module {v} V {ah} Ah, LFP, {kg} kg",
            {"wh": round(v * ah, 1), "battery_v": v, "weight_kg": kg, "chemistry": "LFP"},
        ),
    ]


def generators(w: int, surge: int, tank: float, half: float, full: float, db: int, kg: float) -> list[tuple[str, dict]]:
    return [
        (
            f"Rated output: {w} W\nStarting output: {surge} W\nFuel tank: {tank} L\nFuel use at half load: {half} l/h\n"
            f"Fuel use at full load: {full} l/h\nNoise: {db} dB(A)\nWeight: {kg} kg\nFuel: gasoline\nOutlet: "
            f"120 V 30 A",
            {
                "running_w": w,
                "surge_w": surge,
                "tank_l": tank,
                "half_l_h": half,
                "full_l_h": full,
                "noise_db": db,
                "weight_kg": kg,
                "fuel": "petrol",
                "volts": "120",
                "outlet_a": 30,
            },
        ),
        (
            f"Engine set, diesel. {w:,} running watts, {surge:,} W peak. Tank capacity "
            f"{round(tank / 3.78541, 2)} gal. Burns "
            f"{round(half / 3.78541, 3)} gal/h at 50% load. {db} dB at 7 m",
            {"running_w": w, "surge_w": surge, "tank_l": tank, "half_l_h": half, "noise_db": db, "fuel": "diesel"},
        ),
    ]


def switches(n: int, place: int, breaker: int, inlet: int, ms: int, price: int) -> list[tuple[str, dict]]:
    both = {"places": n, "inlet_a": inlet}
    return [
        (
            f"Model: Sluice {n}\nManual transfer switch\n{n} circuits, each rated {place} A\nBreaker of each "
            f"circuit: {breaker} A\n"
            f"Inlet: {inlet} A\nSuits 120/240 V\nNeutral is not switched\n${price}",
            both
            | {
                "name": f"Sluice {n}",
                "place_a": place,
                "place_breaker_a": breaker,
                "volts": "120/240",
                "switched_neutral": False,
                "automatic": False,
                "price": str(float(price)),
                "currency": "USD",
            },
        ),
        (
            f"Weir {n} | {n}-circuit automatic panel | {place} A per circuit | inlet {inlet} A | takes over in "
            f"{ms} ms | switched neutral",
            both | {"place_a": place, "transfer_ms": ms, "automatic": True, "switched_neutral": True},
        ),
        (
            f"Circuits: {n}\nCord and inlet: {inlet} A\nEach relay carries {place} A\nTransfer time: {ms / 1000} s\n"
            "It takes over by itself and does not switch the neutral.",
            both | {"place_a": place, "transfer_ms": ms, "automatic": True, "switched_neutral": False},
        ),
        (
            f"A {n}-way switch worked by hand, for {n} branch circuits of {place} amps; generator plug of "
            f"{inlet} amps. "
            "It switches the neutral.",
            both | {"place_a": place, "automatic": False, "switched_neutral": True},
        ),
    ]


SHEETS: list[tuple[str, str, dict]] = [
    *(("stations", text, truth) for d in (A, B) for text, truth in stations(d)),
    *(("panels", *x) for x in panels(410, 37.3, 31.2, 13.9, 13.1, 21.5, -0.27)),
    *(("panels", *x) for x in panels(220, 49.6, 41.2, 5.8, 5.4, 11, -0.29)),
    *(("modules", *x) for x in modules(3072, 51.2, 60, 30.5)),
    *(("modules", *x) for x in modules(1280, 12.8, 100, 12)),
    *(("transfer", *x) for x in switches(8, 20, 15, 30, 40, 690)),
    *(("transfer", *x) for x in switches(12, 30, 25, 50, 65, 1480)),
    *(("generators", *x) for x in generators(1800, 2300, 4.2, 0.6, 1.05, 58, 21.5)),
    *(("generators", *x) for x in generators(5500, 6900, 24, 1.9, 3.2, 71, 82)),
]
