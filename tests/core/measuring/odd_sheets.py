"""Thirty more made-up sheets: shop pages, scans, tables and lines as people paste them; ten are full of *no*."""

from __future__ import annotations

from imbuto.core.measuring.data_sheet_meanings import SheetKind

DENYING: list[tuple[SheetKind, str, dict[str, object]]] = [
    (
        "transfer",
        "Model: Penstock 6\nSix circuits, 15 A each\nInlet 30 A\nAutomatic transfer: no\nSwitched neutral: no\n"
        "Outdoor use: no\nMeters: none",
        {
            "name": "Penstock 6",
            "places": 6,
            "place_a": 15,
            "inlet_a": 30,
            "automatic": False,
            "switched_neutral": False,
        },
    ),
    (
        "transfer",
        "Headgate 10 | 10 circuits | No automatic operation | does not switch the neutral | inlet not included",
        {"places": 10, "automatic": False, "switched_neutral": False},
    ),
    (
        "transfer",
        "Wicket 4: four circuits of 20 A. Not automatic: you throw each lever. The neutral stays connected; there is "
        "no neutral switching. No warranty on relays.",
        {"places": 4, "place_a": 20, "automatic": False, "switched_neutral": False},
    ),
    (
        "panels",
        "Slab 400\n400 W\nVoc 37.0 V\nVmp 31.0 V\nIsc 13.7 A\nImp 12.9 A\nFoldable: No\nPortable: No\nKickstand: none",
        {"w": 400, "voc_v": 37.0, "vmp_v": 31.0, "isc_a": 13.7, "imp_a": 12.9, "portable": False},
    ),
    (
        "panels",
        "Rigid glass module, non-folding, not portable. Rated power 365 W, open circuit voltage 41.2 V, short circuit "
        "current 11.4 A, weight 20.1 kg",
        {"w": 365, "voc_v": 41.2, "isc_a": 11.4, "weight_kg": 20.1, "portable": False},
    ),
    (
        "stations",
        "Noggin\nCapacity: 614 Wh\nAC output: 700 W (no surge rating)\nSolar input: none\nExpandable: no\n"
        "UPS function: no\nWireless app: no\nWeight: 7.9 kg",
        {"name": "Noggin", "nominal_wh": 614, "continuous_w": 700, "weight_kg": 7.9},
    ),
    (
        "stations",
        "Costrel 1 kWh | 1,024 Wh | 1,500 W | Expansion battery: not supported | Solar: 11-50 V, 10 A, 400 W | "
        "120 V outlets: 3 | 240 V outlet: no | Auto restart after empty: no",
        {
            "nominal_wh": 1024,
            "continuous_w": 1500,
            "solar_min_v": 11,
            "solar_max_v": 50,
            "solar_max_a": 10,
            "solar_max_w": 400,
            "outlets": 3,
            "volts": "120",
        },
    ),
    (
        "generators",
        "Furnace 2200\nRunning watts: 1,800\nStarting watts: 2,200\nElectric start: no\nRemote start: no\n"
        "Auto start: no\nCO shutoff: no\nTank: 1.1 gal\nFuel: gasoline",
        {"running_w": 1800, "surge_w": 2200, "tank_l": 4.16, "fuel": "petrol", "start": "by_hand"},
    ),
    (
        "generators",
        "No electric start, no battery, no propane: gasoline only. 3,300 running W, 4,000 starting W. Neutral: "
        "not bonded. 74 dB",
        {"running_w": 3300, "surge_w": 4000, "fuel": "petrol", "noise_db": 74},
    ),
    (
        "modules",
        "Extra battery\n1,536 Wh, 48 V\nNo inverter, no outlets, no display\n14.2 kg\nHot swap: not possible",
        {"wh": 1536, "battery_v": 48, "weight_kg": 14.2},
    ),
]

OTHERS: list[tuple[SheetKind, str, dict[str, object]]] = [
    (
        "stations",
        "Battery capacity 3,584 Wh (51.2 V / 70 Ah)\nContinuous output 3,000 W, 120 V / 25 A\nSurge 6,000 W\n"
        "Solar charging 12–150 V / 15 A, up to 1,200 W\nWall charging up to 1,500 W\nNet weight 89.3 lb",
        {
            "nominal_wh": 3584,
            "battery_v": 51.2,
            "continuous_w": 3000,
            "surge_va": 6000,
            "solar_min_v": 12,
            "solar_max_v": 150,
            "solar_max_a": 15,
            "solar_max_w": 1200,
            "charge_w": 1500,
            "weight_kg": 40.5,
            "volts": "120",
        },
    ),
    (
        "stations",
        "CAPACITY\t2.016 kWh\nAC OUTPUT (TOTAL)\t2400 W\nSURGE\t4800 W, 3 s\nAC INPUT\t1800 W\nPV INPUT\t"
        "15-95 V; 12 A; 800 W\nCYCLES\t3,000 to 80%\nDIMENSIONS\t399 x 211 x 281 mm\nMASS\t22 kg",
        {
            "nominal_wh": 2016,
            "continuous_w": 2400,
            "surge_va": 4800,
            "surge_s": 3,
            "charge_w": 1800,
            "solar_min_v": 15,
            "solar_max_v": 95,
            "solar_max_a": 12,
            "solar_max_w": 800,
            "cycle_life": 3000,
            "weight_kg": 22,
        },
    ),
    (
        "stations",
        "Kapazität: 1.843 Wh\nDauerleistung: 2.000 W\nGewicht: 19,5 kg",
        {},
    ),
    (
        "stations",
        "Runlet 300: 296 Wh lithium-ion, 300 W pure sine (600 W peak), 2 AC outlets, 7.1 lb, recharge from wall in "
        "2.5 h, MSRP $249",
        {
            "nominal_wh": 296,
            "continuous_w": 300,
            "surge_va": 600,
            "outlets": 2,
            "weight_kg": 3.22,
            "price": "249.0",
            "currency": "USD",
        },
    ),
    (
        "stations",
        "Output: AC 230 V~ 50 Hz 2300 W max\nPeak 4600 W\nBattery: LFP 44.8 V 50 Ah 2240 Wh\nInput: AC 230 V~ 10 A max\n"
        "Idle consumption AC on: 22 W\nStandby time-out: 12 h",
        {
            "continuous_w": 2300,
            "surge_va": 4600,
            "nominal_wh": 2240,
            "battery_v": 44.8,
            "chemistry": "LFP",
            "volts": "230",
            "idle_w": 22,
            "input_a": 10,
        },
    ),
    (
        "stations",
        "Usable energy: 9.2 kWh (10.2 kWh total)\nContinuous power 7.2 kW, 120/240 V split phase\nPeak 14.4 kW for 10 s\n"
        "Round-trip efficiency 88%\nOperating –20 °C to 50 °C",
        {
            "continuous_w": 7200,
            "surge_va": 14400,
            "surge_s": 10,
            "volts": "120/240",
            "discharge_min_c": -20,
            "discharge_max_c": 50,
        },
    ),
    (
        "stations",
        "Inverter efficiency: 91 %\nCapacity: 1500 Wh\nRated power: 1800 VA / 1600 W\nAuto power off: after 8 hours\n"
        "Outlet rating: 15 A",
        {
            "efficiency": 0.91,
            "nominal_wh": 1500,
            "rated_va": 1800,
            "continuous_w": 1600,
            "auto_off_after_h": 8,
            "outlet_a": 15,
        },
    ),
    (
        "panels",
        "STC: Pmax 440 W, Vmp 33.3 V, Imp 13.2 A, Voc 39.6 V, Isc 13.9 A, temp. coeff. Voc -0.25 %/°C. 1762 x 1134 x "
        "30 mm, 22.0 kg",
        {
            "w": 440,
            "vmp_v": 33.3,
            "imp_a": 13.2,
            "voc_v": 39.6,
            "isc_a": 13.9,
            "voc_percent_c": -0.25,
            "weight_kg": 22.0,
        },
    ),
    (
        "panels",
        "Portable solar panel 220W, folds to the size of a suitcase. 21.8V open circuit, 18.2V operating, 12.1A working "
        "current, 13.0A short circuit. 9.5 kg",
        {"w": 220, "voc_v": 21.8, "vmp_v": 18.2, "imp_a": 12.1, "isc_a": 13.0, "weight_kg": 9.5, "portable": True},
    ),
    (
        "panels",
        "Nominal Max. Power | 415 Wp\nOpt. Operating Voltage | 31.4 V\nOpt. Operating Current | 13.22 A\n"
        "Open Circuit Voltage | 37.4 V\nShort Circuit Current | 14.02 A\nMax. System Voltage | 1000 V",
        {"w": 415, "vmp_v": 31.4, "imp_a": 13.22, "voc_v": 37.4, "isc_a": 14.02, "max_v": 1000},
    ),
    (
        "generators",
        "Dual fuel: 5,300 running W on gasoline (4,800 on propane); 6,600 starting. 6.1 gal tank. 240 V 30 A outlet. "
        "68 dBA at 23 ft.",
        {"running_w": 5300, "surge_w": 6600, "tank_l": 23.1, "noise_db": 68, "outlet_a": 30},
    ),
    (
        "generators",
        "Inverter generator\nRated 2.0 kW, max 2.3 kW\nRuns 8.1 h at 1/4 load on 4.0 L\nNoise 52–61 dB(A)\n18.6 kg",
        {"running_w": 2000, "surge_w": 2300, "weight_kg": 18.6},
    ),
    (
        "modules",
        "Add-on pack: 51.2 V, 100 Ah, 5.12 kWh LiFePO4, 6,000 cycles, 45 kg",
        {"wh": 5120, "battery_v": 51.2, "weight_kg": 45, "chemistry": "LFP"},
    ),
    (
        "modules",
        "Expansion battery | 2,048Wh | 40Ah 51.2V | 48.5 lbs | LFP",
        {"wh": 2048, "battery_v": 51.2, "weight_kg": 22.0, "chemistry": "LFP"},
    ),
    (
        "transfer",
        "Automatic transfer panel, 12 circuits, 50 A inlet, 120/240 V, changes over in 20 ms, switches the neutral: yes",
        {
            "places": 12,
            "inlet_a": 50,
            "volts": "120/240",
            "transfer_ms": 20,
            "automatic": True,
            "switched_neutral": True,
        },
    ),
    (
        "transfer",
        "Number of circuits\t8\nMax. amps per circuit\t20\nInlet\t30 A, 125/250 V\nMaximum running watts\t7500\n"
        "Weight\t13 lb\nPrice\t$429.00",
        {"places": 8, "place_a": 20, "inlet_a": 30, "price": "429.0", "currency": "USD"},
    ),
    (
        "stations",
        "Operating temp (discharge): 14–104 °F\nCharging temp: 32–104 °F\nCapacity: 768 Wh\nAC: 800 W",
        {
            "nominal_wh": 768,
            "continuous_w": 800,
            "discharge_min_c": -10,
            "discharge_max_c": 40,
            "charge_min_c": 0,
            "charge_max_c": 40,
        },
    ),
    (
        "stations",
        "Up to 12 kWh with 3 extra batteries\nOwn capacity 4,096 Wh\nUp to 7,200 W with two units; one unit 3,600 W\n"
        "AC outlets: 4 × 20 A, 1 × 30 A",
        {"nominal_wh": 4096, "outlet_a": 20},
    ),
    (
        "stations",
        "What's in the box: station, AC cable 1.5 m, solar cable 3 m\n1,050 Wh\n1,200 W AC\nsurge to 2,100 W\n29 lb\n"
        "5-year warranty",
        {"nominal_wh": 1050, "continuous_w": 1200, "surge_va": 2100, "weight_kg": 13.15, "warranty_years": 5},
    ),
    (
        "stations",
        "AC Output Ports ×6, 120 V, 20 A max, 2,600 W total\nUSB-C ×2, 100 W\nCar port 12.6 V 10 A\nBattery 2,688 Wh\n"
        "Solar in 11–150 V, 2 × 15 A, 1,000 W each",
        {
            "outlets": 6,
            "outlet_a": 20,
            "continuous_w": 2600,
            "nominal_wh": 2688,
            "volts": "120",
            "solar_min_v": 11,
            "solar_max_v": 150,
            "solar_max_a": 15,
            "solar_max_w": 1000,
        },
    ),
]
