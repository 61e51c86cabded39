package org.juratest.core.port;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertSame;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.Mockito.doThrow;
import static org.mockito.Mockito.inOrder;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.juratest.core.family.radios.RadioControl;
import org.juratest.core.family.radios.RadioTester;
import org.juratest.core.family.radios.SignalGenerator;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.ReadBack;
import org.mockito.InOrder;

class LinkedTest {

    private final RadioTester set = mock(RadioTester.class);
    private final RadioControl radio = mock(RadioControl.class);
    private final GearFacts facts = new GearFacts(
            "p1", "port", "radio-data-port", "Data port", "M", "X", "S-1", null, LocalDate.MAX, null, Map.of());
    private final GearFacts own = new GearFacts(
            "t1", "tester", "radio-test-set", "Test set", "M", "T", "S-0", null, LocalDate.MAX, null, Map.of());
    private final Linked linked = new Linked(new Linked.Member(own, set), List.of(new Linked.Member(facts, radio)));

    @BeforeEach
    void setUp() {
        when(radio.makeSafe()).thenReturn(new ReadBack(true, true, "not keyed"));
        when(set.makeSafe()).thenReturn(new ReadBack(true, true, "output off"));
        when(set.identify()).thenReturn(new GearIdentity("M", "T", "S-0", "1"));
    }

    @Test
    void eachIsFoundByWhatItCanDo() {
        assertSame(set, linked.find(RadioTester.class).orElseThrow());
        linked.find(DeviceLink.class).orElseThrow().set("reference", 7);
        verify(radio).set("reference", 7);
        assertTrue(linked.find(SignalGenerator.class).isEmpty());
    }

    @Test
    void safeIsWhenAllAreAndWhatKeysTheDeviceGoesOffFirst() {
        assertTrue(linked.makeSafe().off());
        InOrder order = inOrder(radio, set);
        order.verify(radio).makeSafe();
        order.verify(set).makeSafe();
        when(radio.makeSafe()).thenReturn(new ReadBack(false, false, "silent"));
        ReadBack read = linked.makeSafe();
        assertFalse(read.off() || read.answered());
        assertEquals("output off; Data port: silent", read.words());
        assertEquals(
                List.of(new ReadBack.Part("p1", false, "silent"), new ReadBack.Part("t1", true, "output off")),
                read.parts());
        verify(set, org.mockito.Mockito.times(2)).makeSafe();
    }

    @Test
    void whatHasNoOutputIsUsedBesideAndAloneAndIsNeverSwitchedOn() {
        DeviceLink lamp = mock(DeviceLink.class);
        Linked beside = new Linked(new Linked.Member(own, set), List.of(new Linked.Member(facts, lamp)));
        beside.watchdog(2);
        beside.feedWatchdog();
        verify(set).watchdog(2);
        verify(set).feedWatchdog();
        assertTrue(beside.makeSafe().off());
        Linked alone = new Linked(new Linked.Member(facts, lamp), List.of());
        ReadBack read = alone.makeSafe();
        assertTrue(read.off() && read.answered());
        assertEquals("it has no output", read.words());
        alone.feedWatchdog();
        assertEquals(
                GearException.Fault.REFUSED,
                assertThrows(GearException.class, alone::outputOn).fault());
        alone.close();
        verify(lamp).close();
    }

    @Test
    void otherGearAtTheAddressIsNamedBeforeAnythingIsSwitched() {
        when(radio.identify()).thenReturn(new GearIdentity("M", "X", "S-2", "1"));
        GearException wrong = assertThrows(GearException.class, linked::identify);
        assertEquals(GearException.Fault.WRONG_IDENTITY, wrong.fault());
        assertTrue(
                String.valueOf(wrong.getMessage()).contains("S-2")
                        && String.valueOf(wrong.getMessage()).contains("S-1"),
                wrong.getMessage());
        verify(set, never()).outputOn();
        when(radio.identify()).thenReturn(new GearIdentity("M", "X", "S-1", "1"));
        assertEquals("S-0", linked.identify().serial(), "the first is who measures");
    }

    @Test
    void aFaultOfOneOfThemSaysWhose() {
        doThrow(new GearException(GearException.Fault.SILENT, "no answer"))
                .when(radio)
                .feedWatchdog();
        GearException fault = assertThrows(GearException.class, linked::feedWatchdog);
        assertEquals("p1", fault.gear() == null ? null : fault.gear().id());
        when(radio.device()).thenThrow(new GearException(GearException.Fault.SILENT, "no answer"));
        GearException asked = assertThrows(
                GearException.class,
                () -> linked.find(DeviceLink.class).orElseThrow().device());
        assertEquals("p1", asked.gear() == null ? null : asked.gear().id(), "also where a method asks it by its role");
    }
}
