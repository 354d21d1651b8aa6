"""Materials that melt: the catalogue against an independent library (chemicals, by Caleb Bell), and what their tables add up to."""

from __future__ import annotations

import unittest

import chemicals
import numpy as np

from wattikos_core.case import read_case, resolve
from wattikos_core.materials import CATALOGUE, constant_melting_table, table_of, with_melting
from wattikos_core.materials.melting import melting_table

MELTING = {key: material for key, material in CATALOGUE.items() if material.state == "melting"}
# CAS numbers of those that are pure substances.
PURE = {"ice_water": "7732-18-5", "n_octadecane": "593-45-3", "lauric_acid": "143-07-7", "gallium": "7440-55-3"}
PARAFFINS = {"n_hexadecane": "544-76-3", "n_octadecane": "593-45-3", "n_eicosane": "112-95-8"}
PURE |= PARAFFINS


class AgainstReference(unittest.TestCase):
    def test_melting_points_and_heats_of_fusion(self) -> None:
        """Of the CRC Handbook, through chemicals; published heats of fusion of waxes and acids scatter by some per cent."""
        for key, cas in PURE.items():
            material = MELTING[key]
            middle = 0.5 * (material.melts_from + material.melts_to)
            self.assertAlmostEqual(middle, chemicals.Tm(cas), delta=2.5, msg=key)
            heat = chemicals.Hfus(cas) / (chemicals.MW(cas) * 1e-3)
            self.assertAlmostEqual(material.latent_heat / heat, 1.0, delta=0.06, msg=key)

    def test_liquid_paraffins(self) -> None:
        """Viscosity and conductivity by Perry's Handbook, through chemicals."""
        for key, cas in PARAFFINS.items():
            table, t = table_of(key), MELTING[key].melts_to + 20.0
            m, k = (
                chemicals.viscosity.mu_data_Perrys_8E_2_313.loc[cas],
                chemicals.thermal_conductivity.k_data_Perrys_8E_2_315.loc[cas],
            )
            viscosity = float(np.exp(m.C1 + m.C2 / t + m.C3 * np.log(t)))
            self.assertAlmostEqual(float(table.viscosity(t)) / viscosity, 1.0, delta=0.12, msg=key)
            self.assertAlmostEqual(float(table.conductivity(t)) / (k.C1 + k.C2 * t), 1.0, delta=0.04, msg=key)

    def test_water_expands_as_it_freezes_and_ice_conducts_four_times_as_well(self) -> None:
        """Ice at 0 °C: 2.2 W/m/K and 917 kg/m3; water 0.56 W/m/K (CRC Handbook, from memory)."""
        table = table_of("ice_water")
        self.assertAlmostEqual(float(table.conductivity(272.0)), 2.2, delta=0.05)
        self.assertAlmostEqual(float(table.conductivity(274.0)), 0.56, delta=0.01)
        self.assertAlmostEqual(MELTING["ice_water"].solid_density, 917.0, delta=2.0)


class Tables(unittest.TestCase):
    def test_enthalpy_rises_by_the_latent_heat_over_the_range(self) -> None:
        for key in MELTING:
            table = table_of(key)
            assert table.melting is not None
            begins, ends = table.melting.begins, table.melting.ends
            heats = float(table.specific_heat(begins - 1.0)), float(table.specific_heat(ends + 1.0))
            rise = float(table.enthalpy(ends) - table.enthalpy(begins))
            sensible = 0.5 * sum(heats) * (ends - begins)
            self.assertAlmostEqual(rise / (MELTING[key].latent_heat + sensible), 1.0, delta=2e-3, msg=key)

    def test_the_stretched_temperature_and_the_true_one_belong_together(self) -> None:
        for key in MELTING:
            table = table_of(key)
            assert table.melting is not None
            t = np.linspace(table.melting.begins - 20.0, table.melting.ends + 20.0, 401)
            stretched = table.stretched(t)
            self.assertTrue(np.all(np.diff(stretched) > 0.0), key)
            nodes = table.start + table.step * np.arange(table.melting.nodes.size)
            np.testing.assert_allclose(np.interp(stretched, nodes, table.melting.nodes), t, atol=1e-9, err_msg=key)
            liquid = np.append(table.melting.liquid[:, 3], 1.0)
            share = np.interp(stretched, nodes, liquid)
            np.testing.assert_allclose(share[t <= table.melting.begins], 0.0, atol=1e-12, err_msg=key)
            np.testing.assert_allclose(share[t >= table.melting.ends], 1.0, atol=1e-12, err_msg=key)
            self.assertTrue(np.all(np.diff(share) >= -1e-12), key)

    def test_enthalpy_is_close_to_proportional_to_the_stretched_temperature(self) -> None:
        """That is what it is for: one specific heat through solid, mush and liquid, within what the two phases differ by."""
        for key in MELTING:
            table = table_of(key)
            assert table.melting is not None
            t = np.array([table.melting.begins - 5.0, table.melting.begins, table.melting.ends, table.melting.ends + 5.0])
            slopes = np.diff(table.enthalpy(t)) / np.diff(table.stretched(t))
            heats = sorted((slopes[0], slopes[2]))
            self.assertGreater(slopes[1], 0.98 * heats[0], key)
            self.assertLess(slopes[1], 1.02 * heats[1], key)

    def test_another_range_and_latent_heat(self) -> None:
        before = table_of("n_octadecane")
        after = with_melting(before, 300.0, 304.0, 2e5)
        assert after.melting is not None
        self.assertEqual((after.melting.begins, after.melting.ends), (300.0, 304.0))
        rise = float(after.enthalpy(304.0) - after.enthalpy(300.0))
        self.assertAlmostEqual(
            rise, 2e5 + 4.0 * 0.5 * (float(after.specific_heat(299.0)) + float(after.specific_heat(305.0))), delta=50.0
        )
        for property_of in (lambda table: table.conductivity, lambda table: table.specific_heat):
            for t in (290.0, 320.0):
                # Specific heats are means between nodes, which stand elsewhere now.
                self.assertAlmostEqual(float(property_of(after)(t)) / float(property_of(before)(t)), 1.0, delta=2e-3)
        self.assertIn("given in the case", after.source)

    def test_one_specific_heat_of_solid_and_liquid(self) -> None:
        before = table_of("n_octadecane")
        assert before.melting is not None
        begins, ends, latent = before.melting.begins, before.melting.ends, before.melting.latent_heat
        after = with_melting(before, begins, ends, latent, 2000.0)
        for t in (begins - 20.0, ends + 20.0):
            self.assertAlmostEqual(float(after.specific_heat(t)), 2000.0, places=6)
        self.assertAlmostEqual(float(after.enthalpy(ends) - after.enthalpy(begins)), latent + 2000.0 * (ends - begins), delta=1.0)
        case = {"title": "wax", "inputs": {}, "materials": {"own": {"base": "n_octadecane", "specific_heat": "2 kJ/kg/K"}}}
        part = {"name": "wax", "material": "own", "shape": {"type": "rectangle", "width": "1 mm", "height": "1 mm"}}
        resolved = resolve(read_case({**case, "section": {"parts": [part]}}))
        self.assertAlmostEqual(float(resolved.part("wax").material.specific_heat(begins - 5.0)), 2000.0, places=6)

    def test_constants(self) -> None:
        table = constant_melting_table(
            "wax", melts=(300.0, 302.0), latent_heat=1e5, density=900.0, specific_heat=(1500.0, 2500.0), conductivity=(0.4, 0.2)
        )
        self.assertAlmostEqual(float(table.specific_heat(290.0)), 1500.0)
        self.assertAlmostEqual(float(table.specific_heat(320.0)), 2500.0)
        self.assertAlmostEqual(float(table.conductivity(290.0)), 0.4)
        self.assertAlmostEqual(float(table.conductivity(320.0)), 0.2)
        # Half molten half way.
        self.assertAlmostEqual(float(table.conductivity(301.0)), 0.3, delta=1e-6)
        # Beyond its range a table goes on with the heat of its end.
        rise = float(table.enthalpy(500.0) - table.enthalpy(400.0))
        self.assertAlmostEqual(rise, 2500.0 * 100.0, delta=1e-6)

    def test_every_one_is_found_by_its_key(self) -> None:
        self.assertGreaterEqual(len(MELTING), 5)
        for key, material in MELTING.items():
            self.assertEqual(melting_table(material).label, table_of(key).label)
            self.assertGreater(len(material.source), 20)
