package org.juratest.core.family.meters;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.juratest.core.method.Results;
import org.juratest.core.procedure.Step;
import org.juratest.core.procedure.StepKind;
import org.juratest.core.run.ReadingBuilder;
import org.juratest.core.run.RunFixture;

/** A procedure need not ask for all that a method reads. */
class PointsTest {

    private final Results results = mock(Results.class);

    @BeforeEach
    void withOnePoint() {
        Step contact = RunFixture.procedure().step("contact").orElseThrow();
        assertEquals(List.of("r"), contact.points().stream().map(p -> p.id()).toList());
        assertEquals(StepKind.MEASUREMENT, contact.kind());
        when(results.step()).thenReturn(contact);
    }

    @Test
    void aReadingOfAPointThatIsNotAskedForIsNotEvenMade() {
        AtomicInteger made = new AtomicInteger();
        ReadingBuilder reading = mock(ReadingBuilder.class);
        Points.keep(results, "ratio", () -> {
            made.incrementAndGet();
            return reading;
        });
        assertEquals(0, made.get(), "making it would fail: there is no such point");
        verify(results, never()).keep(any());
        Points.keep(results, "r", () -> reading);
        verify(results).keep(reading);
    }

    @Test
    void onlyPointsThatAreAskedForAreSaidNotToBeMeasurable() {
        Points.notMeasurable(results, List.of("ratio", "r"), "no load");
        verify(results).notMeasurable("r", "no load");
        verify(results, never()).notMeasurable("ratio", "no load");
    }
}
