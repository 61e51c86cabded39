package org.juratest.server.record;

/** How the report looks: A4, the field book without its paper colour. */
final class PaperStyle {

    static final String CSS =
            """
      @page { size: A4; margin: 15mm 14mm 17mm 14mm;
        @bottom-left { content: element(foot); }
        @bottom-right { content: "page " counter(page) " of " counter(pages); font-family: Plex; font-size: 7.5pt;
          color: #5d6670; } }
      body { font-family: Plex; font-size: 8.5pt; line-height: 1.3; color: #1b2530; margin: 0; }
      .foot { position: running(foot); font-size: 7.5pt; color: #5d6670; }
      h1 { font-size: 18pt; line-height: 1.1; margin: 0; }
      h2 { font-size: 8.5pt; margin: 9pt 0 2pt 0; page-break-after: avoid; }
      p { margin: 0 0 1.5pt 0; }
      table { border-collapse: collapse; width: 100%; }
      td, th { vertical-align: top; text-align: left; padding: 0; }
      .head .mark { width: 40pt; padding-top: 9pt; }
      .number { font-family: Mono; font-size: 8.5pt; color: #5d6670; }
      .detail { font-size: 9.5pt; font-weight: 700; margin-top: 2pt; }
      .facts { margin-top: 8pt; }
      .facts .half { width: 50%; padding-right: 12pt; }
      .facts .half td { padding-bottom: 1.5pt; }
      .label { width: 50pt; color: #5d6670; }
      .rows td { padding: 1.5pt 8pt 1.5pt 0; border-bottom: 0.5pt solid #d8d1c2; font-family: Condensed; }
      .rows .w { white-space: nowrap; }
      .expired { font-weight: 700; border-bottom: 1.5pt dashed #b9a56a; }
      .points { margin-top: 10pt; -fs-table-paginate: paginate; }
      .points th { font-family: Condensed; font-weight: 400; color: #5d6670; font-size: 8pt; padding: 0 4pt 2pt 0;
        border-bottom: 0.8pt solid #1b2530; }
      .points td { padding: 2.5pt 4pt 2pt 0; border-bottom: 0.5pt solid #d8d1c2; }
      .points tr { page-break-inside: avoid; }
      .points .step td { font-weight: 700; padding-top: 7pt; page-break-after: avoid; }
      .points .all { font-family: Condensed; font-weight: 400; font-size: 7.5pt; color: #5d6670; padding-left: 6pt; }
      .points .point td { font-family: Condensed; }
      .points .n { text-align: right; white-space: nowrap; }
      .points .v { width: 12pt; padding-top: 4pt; }
      .points td.reading { font-family: Mono; font-weight: 700; font-size: 9.5pt; }
      .points .point .mono, .mono { font-family: Mono; }
      .points .limit { font-size: 7.5pt; color: #5d6670; width: 158pt; }
      .lanes { margin: 0; }
      .lanes td, .lanes th { padding: 1.5pt 8pt 1.5pt 0; font-family: Condensed; width: 25%; }
      .lanes tr:last-child td { border-bottom: 0; }
      .lanes svg { display: inline-block; vertical-align: middle; }
      .lanes .own { font-size: 7.5pt; color: #5d6670; }
      .lanes .reading { font-family: Mono; font-weight: 700; font-size: 9.5pt; }
      .quiet { color: #5d6670; }
      .gone { text-decoration: line-through; color: #5d6670; }
      .together { page-break-inside: avoid; }
      .field { position: relative; width: 500pt; height: 217pt; margin-top: 2pt; }
      .trace { position: relative; width: 500pt; height: 112pt; margin-top: 2pt; }
      .trace .w { position: absolute; font-family: Condensed; font-size: 7.5pt; line-height: 9pt; }
      .field .w { position: absolute; font-family: Condensed; font-size: 7.5pt; line-height: 9pt; }
      .field .t { background-color: #ffffff; padding: 0 2pt; }
      img.seen { max-width: 200pt; max-height: 150pt; margin: 2pt 0; }
      .over { position: relative; }
      .over .shapes { position: absolute; left: 0; top: 2pt; }
      .over .w { position: absolute; font-family: Condensed; font-size: 6.5pt; line-height: 7pt; white-space: nowrap; }
      table.seen td { width: 50%; vertical-align: top; padding: 0 8pt 6pt 0; }
      .photo { max-width: 240pt; max-height: 180pt; margin-top: 3pt; }
      .lines td { width: 50%; padding-top: 3pt; border-top: 0.8pt solid #1b2530; color: #5d6670; font-size: 7.5pt; }
      .lines { margin-top: 34pt; border-spacing: 20pt 0; border-collapse: separate; width: 100%; }
      .evidence { margin-top: 10pt; }
      .evidence td { padding-right: 10pt; }
      .evidence .mono { font-size: 7.5pt; }
      """;

    private PaperStyle() {}
}
