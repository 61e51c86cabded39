package org.juratest.server.month;

import java.time.DateTimeException;
import java.time.YearMonth;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;
import org.juratest.server.Juratest;
import org.juratest.server.paper.PaperPress;
import org.juratest.server.plan.PlanPages;
import org.springframework.http.ContentDisposition;
import org.springframework.http.HttpHeaders;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** The month on one page, and on paper. */
@RestController
@RequestMapping("/api/month")
class MonthController {

    private static final int FIRST_YEAR = 1970;
    private static final int LAST_YEAR = 2200;

    private final Months months;
    private final PlanPages pages;
    private final PaperPress press;

    MonthController(Months months, PlanPages pages, PaperPress press) {
        this.months = months;
        this.pages = pages;
        this.press = press;
    }

    /** @param month as 2026-11; the running one where absent */
    @GetMapping
    @Transactional(readOnly = true)
    MonthView month(@RequestParam(required = false) @Nullable String month) {
        return months.of(read(month));
    }

    @GetMapping(value = "/paper", produces = MediaType.APPLICATION_PDF_VALUE)
    @Transactional(readOnly = true)
    ResponseEntity<byte[]> paper(@RequestParam(required = false) @Nullable String month) {
        YearMonth read = read(month);
        return ResponseEntity.ok()
                .header(
                        HttpHeaders.CONTENT_DISPOSITION,
                        ContentDisposition.attachment()
                                .filename("fleet-" + read + ".pdf")
                                .build()
                                .toString())
                .contentType(MediaType.APPLICATION_PDF)
                .body(press.print(MonthPaper.html(months.of(read), pages.zone()), "Juratest " + Juratest.VERSION));
    }

    private YearMonth read(@Nullable String month) {
        if (month == null || month.isEmpty()) {
            return YearMonth.from(pages.today());
        }
        try {
            YearMonth read = YearMonth.parse(month);
            if (read.getYear() >= FIRST_YEAR && read.getYear() <= LAST_YEAR) {
                return read;
            }
        } catch (DateTimeException e) {
            // Told below, as for a year that is none of ours.
        }
        throw new Refusal("unknown-month", "\"" + month + "\" is no month; write it as 2026-11.", "month");
    }
}
