"""Materials: the catalogue is complete, and fluids agree with an independent library (chemicals, by Caleb Bell)."""

from __future__ import annotations

import unittest

import chemicals
import CoolProp.CoolProp as CoolProp
import numpy as np
from chemicals.heat_capacity import CRC_standard_data
from ht.insulation import Cp_material, k_material, rho_material

from wattikos_core.errors import CaseError
from wattikos_core.materials import CATALOGUE, constant_table, override, table_of


class Catalogue(unittest.TestCase):
    def test_what_must_be_there(self) -> None:
        families: dict[str, int] = {}
        for material in CATALOGUE.values():
            families[material.family] = families.get(material.family, 0) + 1
            self.assertGreater(len(material.source), 20, material.key)
        self.assertGreaterEqual(families["metal"], 10)
        self.assertGreaterEqual(families["insulation"] + families["polymer"], 5)
        for key in ("water", "air", "ethylene_glycol_30", "propylene_glycol_40", "thermal_oil"):
            self.assertIn(key, CATALOGUE)

    def test_every_table_is_positive_and_finite(self) -> None:
        for key in CATALOGUE:
            table = table_of(key)
            t = np.linspace(table.start, table.end, 97)
            for values in (table.density(t), table.specific_heat(t), table.conductivity(t)):
                self.assertTrue(np.all(np.isfinite(values)) and np.all(values > 0.0), key)
            self.assertEqual(table.fluid, bool(np.all(table.viscosity(t) > 0.0)), key)


class AgainstReference(unittest.TestCase):
    def test_water_follows_iapws(self) -> None:
        """IAPWS-95 density and heat capacity, IAPWS 2008 viscosity, IAPWS 2011 conductivity, through chemicals."""
        table = table_of("water")
        for t in (278.15, 298.15, 323.15, 353.15):
            density = chemicals.iapws95_rho(t, 101325.0)
            self.assertAlmostEqual(float(table.density(t)) / density, 1.0, delta=2e-5)
            heat = chemicals.iapws95_properties(t, 101325.0)[5]
            self.assertAlmostEqual(float(table.specific_heat(t)) / heat, 1.0, delta=2e-4)
            self.assertAlmostEqual(float(table.viscosity(t)) / chemicals.mu_IAPWS(t, density), 1.0, delta=2e-4)
            self.assertAlmostEqual(float(table.conductivity(t)) / chemicals.k_IAPWS(t, density), 1.0, delta=5e-3)

    def test_air_follows_lemmon(self) -> None:
        """Viscosity and conductivity of Lemmon and Jacobsen (2004) through chemicals; density by the ideal gas law."""
        table = table_of("air")
        for t in (250.0, 300.0, 400.0, 800.0):
            molar_density = 101325.0 / (8.314462618 * t)
            self.assertAlmostEqual(float(table.density(t)) / (molar_density * 28.9586e-3), 1.0, delta=2e-3)
            self.assertAlmostEqual(float(table.viscosity(t)) / chemicals.mu_air_lemmon(t, molar_density), 1.0, delta=1e-3)

    def test_plastics_and_rubber_follow_the_standard(self) -> None:
        """EN ISO 10456 (2007), table 3, as the ht library has it."""
        named = {
            "ptfe": "Plastics, polytetrafluoroethylene (PTFE)",
            "pvc": "Plastics, Polyvinylchloride (PVC)",
            "polyethylene_hd": "Plastics, polyethylene / polythene, high density",
            "polycarbonate": "Plastics, polycarbonates",
            "epdm": "Rubber, ethylene propylene diene monomer (EPDM)",
            "silicone": "Sealant, silicone, pure",
            "glass": "Glass, soda lime",
            "concrete": "Concrete, medium density 2000 kg/m^3",
        }
        for key, name in named.items():
            table = table_of(key)
            self.assertAlmostEqual(float(table.conductivity(293.15)), k_material(name), places=9)
            self.assertAlmostEqual(float(table.density(293.15)), rho_material(name), places=6)
            self.assertAlmostEqual(float(table.specific_heat(293.15)), Cp_material(name), places=6)

    def test_specific_heats_of_pure_metals(self) -> None:
        """CRC Handbook at 25 °C, through chemicals; the tables of the catalogue are rounded to a few J/kg/K."""
        metals = {
            "copper": "7440-50-8",
            "aluminium": "7429-90-5",
            "iron": "7439-89-6",
            "nickel": "7440-02-0",
            "titanium": "7440-32-6",
            "silicon": "7440-21-3",
        }
        for key, number in metals.items():
            molar = float(CRC_standard_data.loc[number]["Cps"])
            heat = molar / (chemicals.MW(number) * 1e-3)
            self.assertAlmostEqual(float(table_of(key).specific_heat(298.15)) / heat, 1.0, delta=0.015, msg=key)

    def test_milk_and_cream_are_what_they_are_made_of(self) -> None:
        """Choi and Okos (1986) by composition, through CoolProp; viscosity of whole milk 2.0 mPa s at 20 °C (Walstra et al. 2006,
        from memory), and the order in which fat thickens."""
        water, fat, rest = (
            CoolProp.PropsSI("D", "T", 293.15, "P", 101325, f"INCOMP::Food{n}") for n in ("Water", "Fat", "Protein")
        )
        for key, of_water, of_fat in (("milk", 0.873, 0.037), ("cream_30", 0.64, 0.30)):
            plain = 1.0 / (of_water / water + of_fat / fat + (1.0 - of_water - of_fat) / rest)
            self.assertAlmostEqual(float(table_of(key).density(293.15)) / plain, 1.0, delta=0.02)
        self.assertAlmostEqual(float(table_of("milk").density(293.15)), 1030.0, delta=8.0)
        self.assertAlmostEqual(float(table_of("milk").specific_heat(293.15)), 3870.0, delta=80.0)
        self.assertAlmostEqual(float(table_of("milk").viscosity(293.15)) / 2.0e-3, 1.0, delta=0.2)
        thick = [float(table_of(key).viscosity(283.15)) for key in ("skim_milk", "milk", "cream_30")]
        self.assertEqual(thick, sorted(thick))

    def test_gases_against_chemicals(self) -> None:
        """Density by the ideal gas law, and conductivity and viscosity by Perry's relations in chemicals, within 3 %."""
        for key, cas, t in (("nitrogen", "7727-37-9", 400.0), ("carbon_dioxide", "124-38-9", 400.0), ("steam", "7732-18-5", 500.0)):
            table = table_of(key)
            weight = chemicals.MW(cas) * 1e-3
            self.assertAlmostEqual(float(table.density(t)) / (101325.0 * weight / (8.314462618 * t)), 1.0, delta=0.01)
            c = chemicals.viscosity.mu_data_Perrys_8E_2_312.loc[cas]
            self.assertAlmostEqual(
                float(table.viscosity(t)) / (c.C1 * t**c.C2 / (1.0 + c.C3 / t + c.C4 / t**2)), 1.0, delta=0.03, msg=key
            )
            c = chemicals.thermal_conductivity.k_data_Perrys_8E_2_314.loc[cas]
            ours = float(table.conductivity(t))
            self.assertAlmostEqual(ours / (c.C1 * t**c.C2 / (1.0 + c.C3 / t + c.C4 / t**2)), 1.0, delta=0.03, msg=key)
        # Steam begins where water boils, at any pressure.
        self.assertAlmostEqual(table_of("steam", 5e5).start, table_of("water", 5e5).end + 0.02, delta=1e-6)

    def test_stainless_steel_at_the_handbook_points(self) -> None:
        """Incropera and DeWitt, table A.1 (from memory)."""
        table = table_of("stainless_304")
        self.assertAlmostEqual(float(table.conductivity(300.0)), 14.9, delta=0.02)
        self.assertAlmostEqual(float(table.conductivity(400.0)), 16.6, delta=0.02)


class Tables(unittest.TestCase):
    def test_enthalpy_and_heat_capacity_belong_together(self) -> None:
        table = table_of("water")
        t, step = 330.0, 1e-3
        slope = float(table.enthalpy(t + step) - table.enthalpy(t - step)) / (2.0 * step)
        self.assertAlmostEqual(slope, float(table.specific_heat(t)), delta=1e-3)
        self.assertAlmostEqual(float(table.temperature_of(table.enthalpy(t), 300.0)), t, places=8)

    def test_a_liquid_ends_where_it_boils(self) -> None:
        self.assertAlmostEqual(table_of("water").end, 373.12, delta=0.05)
        # Saturation at 5 bar is 151.83 °C (steam tables, from memory).
        self.assertAlmostEqual(table_of("water", 5e5).end, 424.97, delta=0.1)

    def test_an_impossible_pressure_is_refused(self) -> None:
        with self.assertRaises(CaseError) as caught:
            table_of("water", 1e12)
        self.assertIn("Water", str(caught.exception))

    def test_overrides_and_constants(self) -> None:
        table = override(table_of("water"), conductivity=0.5, specific_heat=4000.0)
        self.assertEqual(float(table.conductivity(320.0)), 0.5)
        self.assertAlmostEqual(float(table.enthalpy(330.0) - table.enthalpy(320.0)), 40000.0, places=4)
        plain = constant_table("made up", density=10.0, specific_heat=2.0, viscosity=0.1, conductivity=3.0)
        self.assertAlmostEqual(float(plain.prandtl(555.0)), 0.1 * 2.0 / 3.0)
